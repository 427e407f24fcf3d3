import en from "./en/intake.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
