import en from "./en/people-answers.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
