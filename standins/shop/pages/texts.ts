import { html } from "../../html";

/** What a shop tells everybody: where it stands, what it is called, and what it says. */
export const texts = [
  {
    path: "/agb",
    title: "Geschäftsbedingungen",
    says: [
      "Drachen werden verkauft, wie sie fliegen.",
      "Wer einen Drachen zurückschickt, bekommt sein Geld zurück.",
    ],
  },
  {
    path: "/terms",
    title: "Terms of sale",
    says: ["Kites are sold as they fly.", "Whoever sends a kite back gets the money back."],
  },
  {
    path: "/datenschutz",
    title: "Datenschutz",
    says: ["Namen und Anschriften bleiben in der Werkstatt und fliegen nicht davon."],
  },
  {
    path: "/privacy",
    title: "Privacy",
    says: ["Names and addresses stay in the loft and do not fly away."],
  },
] as const;

export const textPage = (title: string, says: readonly string[]) =>
  html`<h1>${title}</h1>
    <div class="slip">${says.map((one) => html`<p>${one}</p>`)}</div>`;
