import en from "./en/audit-answers.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
