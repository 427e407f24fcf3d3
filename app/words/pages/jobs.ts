import en from "./en/jobs.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
