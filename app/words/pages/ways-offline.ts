import en from "./en/ways-offline.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
