import en from "./en/frame-answers.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
