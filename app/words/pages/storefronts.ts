import en from "./en/storefronts.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
