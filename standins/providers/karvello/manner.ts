import type { Manner } from "../../kit/dashboard";

export const manner: Manner = {
  title: "Karvello",
  says: "cards in its own frame",
  password: "ostwind-am-haff",
  colours: ["#e9efe6", "#1d2b22", "#243b2f"],
  face: '"Courier New", monospace',
  bills: "Slips",
  ways: "Networks",
  words: { sandbox: "Sandbox", live: "Live" },
};
