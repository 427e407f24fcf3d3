import en from "./en/revisions.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
