import en from "./en/profiles.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
