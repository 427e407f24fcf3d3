import en from "./en/everywhere.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
