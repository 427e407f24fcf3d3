import en from "./en/connections.json";
import { wordsOf } from "../words-of";

export const t = wordsOf(en);
