import en from "./en/palette.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
