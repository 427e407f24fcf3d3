import { Webhook } from "standardwebhooks";
import type { Hook, SideName } from "../../kit/house";
import { Post } from "../../kit/notes";
import type { Karvello } from "./books";

export const TELLS = [
  "slip.asking",
  "slip.held",
  "slip.taken",
  "slip.card_good",
  "slip.turned_down",
  "slip.broken",
  "slip.dropped",
  "slip.given_back",
  "slip.let_go",
  "slip.lapsed",
  "slip.watched",
  "slip.complained",
  "sending.made",
  "account.changed",
  "card.changed",
];

/** Whether a secret can sign: 24 bytes or more. */
export const canSign = (secret: string) => Buffer.from(secret.replace("whsec_", ""), "base64").length >= 24;

/** Karvello's messages, signed by Standard Webhooks with the secret of the bell that they ring. */
export const bells = (karvello: Karvello): Post =>
  new Post(
    karvello,
    (side, { id, content, spoilt }) => {
      const at = karvello.now();
      const body = JSON.stringify(content.event);
      const secret = karvello.books(side).hooks.find((one) => one.id === content.bell)?.secret;
      const wrong = `whsec_${Buffer.alloc(24, 1).toString("base64")}`;
      return {
        headers: {
          "content-type": "application/json",
          "webhook-id": id,
          "webhook-timestamp": String(Math.floor(at.getTime() / 1000)),
          "webhook-signature": new Webhook(spoilt || !secret ? wrong : secret).sign(id, at, body),
        },
        body,
      };
    },
    "ring_",
  );

const ringOne = (post: Post, side: SideName, bell: Hook, tell: string, about: object | null) =>
  post.send(side, bell.account, bell.to, tell, {
    bell: bell.id,
    event: { tell, at: post.house.now().toISOString(), about },
  });

/** Rings every bell of the account that listens to `tell`. */
export function ring(post: Post, side: SideName, account: string, tell: string, about: object) {
  // What is told is how it stands now, however late it is heard.
  const now = structuredClone(about);
  for (const bell of post.house.books(side).hooks)
    if (bell.account === account && bell.kinds.includes(tell)) ringOne(post, side, bell, tell, now);
}

/** Rings every bell of the account to try it. */
export function ringTest(post: Post, side: SideName, account: string) {
  for (const bell of post.house.books(side).hooks)
    if (bell.account === account) ringOne(post, side, bell, "bell.test", null);
}

/** Takes a bell down, with what was still to be rung there. False when there is none. */
export function takeDown(post: Post, side: SideName, account: string, id: string): boolean {
  const { hooks, notes } = post.house.books(side);
  const at = hooks.findIndex((one) => one.id === id && one.account === account);
  if (at < 0) return false;
  hooks.splice(at, 1);
  for (const note of notes) if (note.content.bell === id) note.done = true;
  post.house.changed();
  return true;
}
