import en from "./en/frame.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
