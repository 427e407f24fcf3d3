import look from "../words/en/look.json";
import { speakers } from "../words/speak";

/** What the page of a look says while colours are chosen: the part of the catalogue that its page brings along. */
export const looking = speakers("en", { look });
