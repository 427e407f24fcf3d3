import en from "./en/home.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
