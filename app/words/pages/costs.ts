import en from "./en/costs.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
