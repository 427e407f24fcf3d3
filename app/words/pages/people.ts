import en from "./en/people.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
