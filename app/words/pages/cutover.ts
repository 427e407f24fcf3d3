import en from "./en/cutover.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
