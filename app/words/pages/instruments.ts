import en from "./en/instruments.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
