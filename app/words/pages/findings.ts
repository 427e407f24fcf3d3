import en from "./en/findings.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
