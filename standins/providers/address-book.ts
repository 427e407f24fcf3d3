import { type Html, html, raw } from "../html";
import { sides, type SideName } from "../kit/house";
import type { Provider } from "../kit/provider";
import { skiesOf } from "../kit/weather";

const style = raw(`
*{box-sizing:border-box}body{margin:0;background:#dfe5e8;color:#1b2327;font:16px/1.45 Georgia,"Times New Roman",serif}
main{max-width:76rem;margin:0 auto;padding:1.6rem 1.4rem 2.5rem}h1{font-size:1.9rem;margin:0}h1+p{margin:.3rem 0 1.3rem;max-width:46rem}
.leaves{display:grid;grid-template-columns:repeat(auto-fill,minmax(22rem,1fr));gap:1.1rem}
article{background:#fdfcf7;border-top:.55rem solid var(--own);padding:.8rem 1rem 1rem;box-shadow:0 1px 0 #a9b4b9}
h2{margin:0;font-size:1.25rem}article p{margin:.1rem 0 .6rem}dl{display:grid;grid-template-columns:max-content 1fr;gap:.15rem .8rem;margin:0}
dt{color:#56646b}dd{margin:0;overflow-wrap:anywhere}code{font:.86em/1.4 "Courier New",monospace}a{color:inherit}
footer{margin-top:1.5rem;border-top:1px solid #97a4aa;padding-top:.8rem;display:grid;gap:.3rem;max-width:60rem}
@media(max-width:26rem){.leaves{grid-template-columns:1fr}}`);

const count = (n: number, one: string, many: string) =>
  n === 0 ? `no ${many}` : n === 1 ? `1 ${one}` : `${n} ${many}`;

function sideLine({ house, manner }: Provider, side: SideName): Html {
  const { bills, notes } = house.books(side);
  const waiting = notes.filter((one) => !one.done).length;
  return html`<dt>${manner.words[side]}</dt>
    <dd>
      <a href="/${house.name}/dashboard/${side}">dashboard</a>; ${count(Object.keys(bills).length, "payment", "payments")}${waiting > 0 && `, ${count(waiting, "message", "messages")} on the way`}
    </dd>`;
}

function leaf(provider: Provider): Html {
  const { house, manner } = provider;
  const skies = skiesOf(house.name);
  return html`<article style="--own:${manner.colours[2]}">
    <h2>${manner.title}</h2>
    <p>${manner.says}</p>
    <dl>
      <dt>password</dt>
      <dd><code>${manner.password}</code></dd>
      ${sides.map((side) => sideLine(provider, side))}
      <dt>weather</dt>
      <dd>${skies.length === 0 ? "calm" : skies.map((sky) => `${sky.kind} for ${count(sky.calls, "call", "calls")} (${sky.side})`).join(", ")}</dd>
    </dl>
  </article>`;
}

/** The page at the front: every simulated provider, the way in, and what goes on there. */
export const addressBook = (providers: readonly Provider[]): string =>
  String(
    html`<!doctype html>
      <html lang="en">
        <head>
          <meta charset="utf-8" />
          <meta name="viewport" content="width=device-width,initial-scale=1" />
          <title>Address book of the simulated providers</title>
          <link rel="icon" href="data:," />
          <style>
            ${style}
          </style>
        </head>
        <body>
          <main>
            <h1>Address book</h1>
            <p>
              Payment providers that do not exist. Each has a sandbox and a live side with accounts of their own, and
              moves no money. Everywhere the e-mail address is <code>kontor@luvwinkel.example</code>.
            </p>
            <div class="leaves">${[...providers].sort((a, b) => a.manner.title.localeCompare(b.manner.title)).map(leaf)}</div>
            <footer>
              <div><a href="/phone">The shopper’s phone</a>: what a shopper is asked on the device, and what its camera reads.</div>
              <div><a href="/mail">The mail box</a>: every letter that was sent.</div>
              <div>
                Bad weather for a provider’s next calls or messages:
                <code>POST /weather/NAME {"side": "sandbox", "kind": "time-out", "calls": 1}</code>; <code>DELETE</code> clears it.
              </div>
            </footer>
          </main>
        </body>
      </html>`,
  );
