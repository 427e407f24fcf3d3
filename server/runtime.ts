import { type ButtonFacts, buttonView, type ButtonView } from "#core/buttons/button";
import type { WalletRefusal } from "#core/buttons/course";
import type { AskingView } from "#core/subscriptions/asking";
import type { ReceiptLetter, ReceiptView } from "#core/receipts/view";
import type { Money } from "#core/money/money";
import { type NoticeFacts, type NoticeView, smallestOf } from "#core/offers/notices";
import type { Told } from "#core/said";
import { randomBytes } from "node:crypto";
import { join } from "node:path";
import pino, { type Logger, type LoggerOptions } from "pino";
import { type Database, openDatabase } from "./database/open";
import { type EmbedScript, readEmbedScript } from "./embed/script";
import { Breakers } from "./gateway/breakers";
import { Pocket } from "./gateway/pocket";
import { Memory } from "./memory";
import { checkMasterKey } from "./keyring";
import { Library } from "./profiles/library";
import { guardedFetch } from "./wire/guarded-fetch";
import { masterKeyFile, type Seal, sealWith } from "./seal";
import type { Settings } from "./settings";

/** Everything effects need, made at the door and passed in, so that a test can turn the clock or cut the wire. */
export interface Runtime {
  readonly settings: Readonly<Settings>;
  db: Database;
  /** Profile versions, read and parsed once each. */
  library: Library;
  memory: Memory;
  /** Access tokens and published keys of providers. */
  pocket: Pocket;
  /** Accounts that are left alone for a while because their provider does not answer. */
  breakers: Breakers;
  /** Milliseconds since the epoch. */
  now(): number;
  ids: Ids;
  http: typeof fetch;
  seal: Seal;
  log: Logger;
  /** Sentences for what is written without a page, such as letters; codes where nobody speaks. */
  speak(told: Told): string;
  /** A letter about a payment, in the shopper's language. */
  writeReceipt(view: ReceiptView): Promise<ReceiptLetter>;
  /** A letter that asks a shopper for something else to pay a subscription with. */
  writeAsking(view: AskingView): Promise<ReceiptLetter>;
  /** A notice in the shopper's words; null where there is nothing to tell. */
  writeNotice(
    facts: NoticeFacts,
    about: { language: string; country: string; total: Money },
  ): NoticeView | null;
  /** A button in the shopper's words. */
  writeButton(facts: ButtonFacts, language: string): ButtonView;
  /** Why something cannot be bought at an address, as a wallet shows it to the shopper. */
  writeButtonRefusal(because: WalletRefusal, language: string): string;
  /** The script for shops' own pages. */
  embed: EmbedScript;
  /** Tells the worker that something waits, so that it does not sleep on. */
  nudge(): void;
  /** Set by the worker: called by `nudge`. */
  onNudge: Set<() => void>;
}

export interface Ids {
  /** A sortable id such as `pay_01J…`: time first, then randomness. */
  next(prefix: string): string;
  /** An unguessable text of 32 random bytes. */
  secret(): string;
  bytes(count: number): Buffer;
}

const ALPHABET = "0123456789abcdefghjkmnpqrstvwxyz";

/** Crockford base 32 of the time in ten letters, then sixteen random ones. */
function makeIds(now: () => number): Ids {
  return {
    next(prefix) {
      let time = now();
      let head = "";
      for (let i = 0; i < 10; i++) {
        head = ALPHABET[time % 32] + head;
        time = Math.floor(time / 32);
      }
      const tail = [...randomBytes(16)].map((byte) => ALPHABET[byte % 32]).join("");
      return `${prefix}_${head}${tail}`;
    },
    secret: () => randomBytes(32).toString("base64url"),
    bytes: (count) => randomBytes(count),
  };
}

export interface RuntimeOptions {
  root: string;
  now?: () => number;
  http?: typeof fetch;
  speak?: (told: Told) => string;
  writeReceipt?: Runtime["writeReceipt"];
  writeNotice?: Runtime["writeNotice"];
  writeButton?: Runtime["writeButton"];
  writeButtonRefusal?: Runtime["writeButtonRefusal"];
  writeAsking?: Runtime["writeAsking"];
}

/** How is logged: an error goes under `err`, which keeps its message, its stack and what caused it. */
export const logOptions = ({ logLevel }: Pick<Settings, "logLevel">): LoggerOptions => ({
  level: logLevel,
  redact: ["authorization", "cookie", "password", "secret", "token"].flatMap((name) => [name, `*.${name}`]),
});

/**
 * Opens the database, the seal and the log.
 * @throws WrongMasterKey when the database was sealed with another key.
 */
export async function openRuntime(settings: Settings, options: RuntimeOptions): Promise<Runtime> {
  const now = options.now ?? Date.now;
  const db = await openDatabase(settings.databaseUrl, join(options.root, "server/database/migrations"), now);
  const keyFile = settings.databaseUrl.startsWith("file:")
    ? settings.databaseUrl.slice("file:".length) + ".key"
    : join(options.root, "data/master.key");
  const seal = sealWith(settings.masterKey ?? masterKeyFile(keyFile));
  await checkMasterKey(db, seal).catch((error: unknown) => {
    db.close();
    throw error;
  });
  const onNudge = new Set<() => void>();
  return {
    settings,
    db,
    library: new Library(db.orm),
    memory: new Memory(),
    pocket: new Pocket(),
    breakers: new Breakers(),
    now,
    ids: makeIds(now),
    http: options.http ?? guardedFetch(settings),
    seal,
    log: pino(logOptions(settings)),
    writeReceipt:
      options.writeReceipt ??
      ((view) => Promise.resolve({ subject: view.kind, text: view.address, html: "" })),
    writeAsking:
      options.writeAsking ??
      ((view) => Promise.resolve({ subject: view.name, text: view.address, html: "" })),
    writeNotice: options.writeNotice ?? plainNotice,
    writeButton:
      options.writeButton ??
      ((facts, language) =>
        buttonView(facts, { language, direction: "ltr", text: facts.name, trouble: facts.settings.label })),
    writeButtonRefusal: options.writeButtonRefusal ?? ((because) => because),
    embed: readEmbedScript(options.root),
    speak: options.speak ?? ((told) => (typeof told === "string" ? told : told.code)),
    nudge: () => onNudge.forEach((wake) => wake()),
    onNudge,
  };
}

/** Where nobody speaks, a notice is its figures: minor units. */
const plainNotice: Runtime["writeNotice"] = ({ offer, label, quoted }, { language }) => {
  const smallest = smallestOf(quoted.plans);
  const figures = (one: typeof smallest) =>
    one ? `${one.payments} × ${one.each.amount} = ${one.total.amount}` : "";
  return (
    smallest && {
      ...{ offer, language, direction: "ltr", title: label, more: "more", close: "close", text: quoted.text },
      lines: [label, figures(smallest)],
      plans: quoted.plans.map(figures),
    }
  );
};
