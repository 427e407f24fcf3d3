import en from "./en/cutover-answers.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
