import en from "./en/parts.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
