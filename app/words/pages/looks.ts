import en from "./en/looks.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
