import decide from "./en/decide.json";
import offer from "./en/offer.json";
import offline from "./en/offline.json";
import reading from "./en/reading.json";
import rules from "./en/rules.json";
import statement from "./en/statement.json";
import { speakers } from "./speak";

/** What the sheet of an offer says while it is edited: the part of the catalogue that its page brings along. */
export const offering = speakers("en", { decide, offer, offline, reading, rules, statement });
