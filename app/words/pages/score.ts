import en from "./en/score.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
