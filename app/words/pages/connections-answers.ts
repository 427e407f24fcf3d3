import en from "./en/connections-answers.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
