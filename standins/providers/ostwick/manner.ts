import type { Manner } from "../../kit/dashboard";

export const manner: Manner = {
  title: "Ostwick",
  says: "cards on its own page",
  password: "leuchtfeuer-am-riff",
  colours: ["#f6efe4", "#3a2417", "#7a3b12"],
  face: "Palatino,Georgia,serif",
  bills: "Orders",
  words: { sandbox: "Sandbox", live: "Live" },
};
