import en from "./en/payouts.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
