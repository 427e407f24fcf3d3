import en from "./en/audit.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
