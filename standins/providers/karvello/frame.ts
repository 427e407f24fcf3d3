import express, { type Response, type Router } from "express";
import { html, raw } from "../../html";
import { luhnHolds, networkOf } from "../../kit/cards";
import { decimal, randomText, type SideName } from "../../kit/house";
import type { Karvello } from "./books";
import { answer, type Counter } from "./slips";

const words = {
  en: {
    number: "Card number",
    expiry: "Valid until (month/year)",
    code: "Security code",
    name: "Name on the card",
    pay: "Pay now",
    number_: "This is not a card number. Please check the digits.",
    network_: "This card's network is not taken here.",
    expiry_: "Please give month and year, for example 09/29.",
    past_: "This card's date has passed.",
    code_: "The code has three digits.",
    name_: "Please give the name on the card.",
    side_sandbox: "This is a real card; here only test cards are taken.",
    side_live: "This is a test card; here only real cards are taken.",
    down: "Karvello did not answer. Please try once more.",
  },
  de: {
    number: "Kartennummer",
    expiry: "Gültig bis (Monat/Jahr)",
    code: "Prüfziffer",
    name: "Name auf der Karte",
    pay: "Jetzt bezahlen",
    number_: "Das ist keine Kartennummer. Bitte die Ziffern prüfen.",
    network_: "Karten dieses Netzes werden hier nicht angenommen.",
    expiry_: "Bitte Monat und Jahr angeben, zum Beispiel 09/29.",
    past_: "Diese Karte ist abgelaufen.",
    code_: "Die Prüfziffer hat drei Stellen.",
    name_: "Bitte den Namen auf der Karte angeben.",
    side_sandbox: "Das ist eine echte Karte; hier gelten nur Testkarten.",
    side_live: "Das ist eine Testkarte; hier gelten nur echte Karten.",
    down: "Karvello hat nicht geantwortet. Bitte noch einmal versuchen.",
  },
};
type Words = (typeof words)["en"];

interface Entry {
  number: string;
  expiry: string;
  code: string;
  name: string;
}

/** Field → complaint, in the shopper's words. Empty when the card may go on. */
function complaints(
  karvello: Karvello,
  side: SideName,
  account: string,
  entry: Entry,
  say: Words,
): Partial<Entry> {
  const found: Partial<Entry> = {};
  const number = entry.number.replace(/[\s-]/g, "");
  if (!/^\d{12,19}$/.test(number) || !luhnHolds(number)) found.number = say.number_;
  else if (!karvello.takes(side, account, networkOf(number))) found.number = say.network_;
  else if (!karvello.cards(side).some((one) => one.number === number)) {
    const other = karvello
      .cards(side === "sandbox" ? "live" : "sandbox")
      .some((one) => one.number === number);
    found.number = other ? (side === "sandbox" ? say.side_sandbox : say.side_live) : say.number_;
  }
  const date = /^\s*(\d{1,2})\s*\/\s*(?:20)?(\d{2})\s*$/.exec(entry.expiry);
  const month = Number(date?.[1]);
  if (!date || month < 1 || month > 12) found.expiry = say.expiry_;
  else if (new Date(2000 + Number(date[2]), month, 1).getTime() <= Date.now()) found.expiry = say.past_;
  if (!/^\d{3}$/.test(entry.code.trim())) found.code = say.code_;
  if (entry.name.trim().length < 2) found.name = say.name_;
  return found;
}

const style = raw(`
*{box-sizing:border-box}body{margin:0;font:16px/1.35 Georgia,serif;color:#222;background:#fff;padding:2px}
form{display:grid;grid-template-columns:1fr 1fr;gap:.7rem .8rem}label{display:block;font-size:.85rem}
.wide{grid-column:1/-1}input{display:block;width:100%;font:inherit;padding:.6rem .55rem;border:1px solid #777;border-radius:0;margin-top:.2rem;background:#fff;color:#222}
input[aria-invalid=true]{border:2px solid #a3211c}.no{color:#a3211c;font-size:.82rem;display:block;min-height:0}
button{font:inherit;font-weight:bold;padding:.8rem;border:0;background:#243b2f;color:#fff;cursor:pointer}button[disabled]{opacity:.5}
input:focus-visible,button:focus-visible{outline:3px solid #c58a12;outline-offset:1px}`);

const script = raw(`
const form=document.querySelector('form'),button=form.querySelector('button');
const set=(n,t)=>{const i=form.elements[n],p=document.getElementById(n+'-no');i.setAttribute('aria-invalid',t?'true':'false');p.textContent=t||''};
const post=(m)=>parent.postMessage({from:'karvello-frame',...m},window.frameSettings.origin);
form.addEventListener('submit',async(e)=>{e.preventDefault();if(button.disabled)return;button.disabled=true;
 const say=document.getElementById('all-no');say.textContent='';let r;
 try{const a=await fetch('tokens',{method:'POST',headers:{'content-type':'application/json'},body:JSON.stringify({...Object.fromEntries(new FormData(form)),account:window.frameSettings.account,key:window.frameSettings.key,lang:window.frameSettings.lang})});r=await a.json()}
 catch{say.textContent=window.frameSettings.down;button.disabled=false;return}
 for(const n of ['number','expiry','code','name'])set(n,r.wrong&&r.wrong[n]);
 if(r.token){form.reset();post({token:r.token,network:r.network,last:r.last});return}
 if(r.fault)say.textContent=r.fault.text;
 const bad=form.querySelector('[aria-invalid=true]');if(bad)bad.focus();button.disabled=false});
if(window.frameSettings.sandbox)addEventListener('message',(e)=>{if(e.origin!==window.frameSettings.origin||!e.data||e.data.to!=='karvello-frame'||e.data.do!=='fill'||typeof e.data.card!=='object'||!e.data.card)return;
 for(const n of ['number','expiry','code','name'])if(typeof e.data.card[n]==='string'){form.elements[n].value=e.data.card[n];set(n,'')}button.focus()});
form.elements.number.addEventListener('input',(e)=>{const d=e.target.value.replace(/\\D/g,'').slice(0,19);e.target.value=d.replace(/(.{4})(?=.)/g,'$1 ')});`);

const json = (value: unknown) => raw(JSON.stringify(value).replace(/</g, "\\u003c"));

function framePage(
  settings: { origin: string; account: string; key: string; lang: string; sandbox: boolean },
  say: Words,
) {
  const field = (name: string, label: string, rest: string, wide = true) =>
    html`<label class="${wide ? "wide" : ""}"
      >${label}<input name="${name}" aria-describedby="${name}-no" ${raw(rest)} required /><span
        class="no"
        id="${name}-no"
        role="alert"
      ></span
    ></label>`;
  return html`<!doctype html>
    <html lang="${settings.lang}">
      <head>
        <meta charset="utf-8" />
        <meta name="viewport" content="width=device-width,initial-scale=1" />
        <title>Karvello</title>
        <link rel="icon" href="data:," />
        <style>
          ${style}
        </style>
      </head>
      <body>
        <main>
          <form novalidate autocomplete="on">
            ${field("number", say.number, 'inputmode="numeric" autocomplete="cc-number" maxlength="23"')}
            ${field("expiry", say.expiry, 'autocomplete="cc-exp" placeholder="09/29" maxlength="9"', false)}
            ${field("code", say.code, 'inputmode="numeric" autocomplete="cc-csc" maxlength="4"', false)}
            ${field("name", say.name, 'autocomplete="cc-name" maxlength="80"')}
            <span class="no wide" id="all-no" role="alert"></span>
            <button class="wide">${say.pay}</button>
          </form>
        </main>
        <script>
          window.frameSettings = ${json({ ...settings, down: say.down })};
          ${script};
        </script>
      </body>
    </html>`;
}

/** The card frame that checkouts embed, and the page on which an issuer asks the shopper. */
export function frameRoutes(counter: Counter): Router {
  const { karvello, side } = counter;
  const { bills } = karvello.books(side);
  const drawer = () => karvello.drawer(side);
  const router = express.Router();
  router.get("/frame", (request, response) => {
    const { account = "", key = "", origin = "", lang = "en" } = request.query as Record<string, string>;
    const say = lang.startsWith("de") ? words.de : words.en;
    const known = drawer().frameKeys.some((one) => one.key === key && one.account === account);
    if (!known || !URL.canParse(origin) || new URL(origin).origin !== origin) {
      response
        .status(403)
        .type("html")
        .send(
          String(
            html`<!doctype html>
              <html lang="en">
                <title>Karvello</title>
                <p>Karvello does not know this frame key for this account on the ${side} side.</p>
              </html>`,
          ),
        );
      return;
    }
    response.set("content-security-policy", `frame-ancestors ${origin}`);
    response
      .type("html")
      .send(
        String(
          framePage(
            { origin, account, key, lang: lang.startsWith("de") ? "de" : "en", sandbox: side === "sandbox" },
            say,
          ),
        ),
      );
  });
  router.post("/tokens", express.json({ limit: "10kb" }), (request, response) => {
    const { account, key, lang, ...entry } = request.body as Entry & {
      account: string;
      key: string;
      lang: string;
    };
    if (!drawer().frameKeys.some((one) => one.key === key && one.account === account)) {
      response.status(403).json({ fault: { code: "K-411", text: "Karvello does not know this frame key." } });
      return;
    }
    const asText = {
      number: String(entry.number ?? ""),
      expiry: String(entry.expiry ?? ""),
      code: String(entry.code ?? ""),
      name: String(entry.name ?? ""),
    };
    const wrong = complaints(karvello, side, account, asText, lang === "de" ? words.de : words.en);
    if (Object.keys(wrong).length > 0) return void response.status(422).json({ wrong });
    const number = asText.number.replace(/[\s-]/g, "");
    const token = `tok_${randomText(24)}`;
    drawer().tokens[token] = { number, account, used: false };
    karvello.changed();
    response.json({ token, network: networkOf(number), last: number.slice(-4) });
  });

  const over = (response: Response) =>
    void response
      .status(410)
      .type("html")
      .send(
        String(
          html`<!doctype html>
            <html lang="en">
              <title>Over</title>
              <p>This question has been answered.</p>
            </html>`,
        ),
      );
  // The shopper's browser brings the slip that is asked about; the answer comes from the page itself.
  router.post("/ask", express.urlencoded({ extended: false }), (request, response) => {
    const { slip = "", sum, answer: says } = request.body as Record<string, string>;
    const bill = bills[slip];
    if (!bill) return void response.status(404).send("There is no such question.");
    if (says !== undefined) {
      if (bill.stand === "open") answer(counter, bill, says === "pass");
      return bill.goBackTo
        ? response.redirect(303, bill.goBackTo)
        : void response.send("You may close this page.");
    }
    if (bill.stand !== "open") return over(response);
    const asked = `${decimal(bill.sum, bill.coin)} ${bill.coin}`;
    if (sum !== asked) return void response.status(400).send("This is not what was asked about.");
    response
      .type("html")
      .send(String(askPage(side, bill.no, bill.way, asked, karvello.slipOf(side, bill).statement)));
  });
  return router;
}

function askPage(side: SideName, no: string, network: string, sum: string, statement: string) {
  return html`<!doctype html>
    <html lang="en">
      <head>
        <meta charset="utf-8" />
        <meta name="viewport" content="width=device-width,initial-scale=1" />
        <title>Is it you?</title>
        <link rel="icon" href="data:," />
        <style>
          body {
            font:
              17px/1.5 Georgia,
              serif;
            max-width: 26rem;
            margin: 12vh auto;
            padding: 0 1rem;
            color: #222;
            background: #fff;
          }
          button {
            font: inherit;
            padding: 0.8rem 1rem;
            margin: 0.3rem 0;
            width: 100%;
            border: 1px solid #243b2f;
            background: #fff;
            color: #222;
          }
          button.yes {
            background: #243b2f;
            color: #fff;
          }
        </style>
      </head>
      <body>
        <main>
          <p>Your bank, for ${network} cards${side === "sandbox" ? " (sandbox)" : ""}</p>
          <h1>Is it you?</h1>
          <p>${statement || "A shop"} asks for <strong>${sum}</strong>.</p>
          <form method="post">
            <input type="hidden" name="slip" value="${no}" />
            <button class="yes" name="answer" value="pass">Yes, it is me</button>
            <button name="answer" value="fail">No, refuse it</button>
          </form>
        </main>
      </body>
    </html>`;
}
