import en from "./en/rehearsal.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
