import en from "./en";
import { speakers } from "./speak";

/** What administrators are told, with amounts and numbers in a storefront's way of writing. */
export const spokenIn = speakers("en", en);

/** What administrators are told, in their language: loaders and actions hand on sentences, pages show them. */
export const { say, tell, spoken } = spokenIn("en");
