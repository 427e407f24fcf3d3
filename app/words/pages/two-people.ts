import en from "./en/two-people.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
