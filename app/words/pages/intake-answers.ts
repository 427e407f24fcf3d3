import en from "./en/intake-answers.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
