import en from "./en/subscriptions.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
