import en from "./en/plans.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
