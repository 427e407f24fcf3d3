import express, { type Router } from "express";
import { simpleParser } from "mailparser";
import { SMTPServer } from "smtp-server";
import { html } from "../html";

export interface Letter {
  number: number;
  at: string;
  from: string;
  to: string;
  subject: string;
  text: string;
  /** Empty for one that is plain text alone. */
  html: string;
}

/** How many letters are kept. */
const MOST = 200;

/** A mail box: takes whatever is sent to anybody, and shows it on a page. */
export class MailBox {
  readonly letters: Letter[] = [];
  private taken = 0;
  readonly server = new SMTPServer({
    authOptional: true,
    disabledCommands: ["STARTTLS"],
    size: 1_000_000,
    onData: (stream, _, done) => {
      simpleParser(stream)
        .then(({ from, to, subject = "", text = "", html: page }) => {
          const toText = [to ?? []].flat().map((one) => one.text);
          this.letters.unshift({
            number: (this.taken += 1),
            at: new Date().toISOString(),
            from: from?.text ?? "",
            to: toText.join(", "),
            subject,
            text,
            html: page || "",
          });
          this.letters.length = Math.min(this.letters.length, MOST);
          done();
        })
        .catch((error: unknown) => done(error instanceof Error ? error : new Error("unreadable")));
    },
  });

  /** Takes letters at a port of this machine. */
  open = (port: number): Promise<void> =>
    new Promise((resolve, reject) => {
      this.server.once("error", reject);
      this.server.listen(port, "127.0.0.1", () => resolve());
    });

  close = () => void this.server.close(() => undefined);

  routes(): Router {
    const router = express.Router();
    router.get("/letters", (_, response) => void response.json({ letters: this.letters }));
    // Shown as it came, where none of it can do anything.
    router.get("/letters/:number/page", (request, response) => {
      const letter = this.letters.find(({ number }) => String(number) === request.params.number);
      if (!letter?.html) return void response.status(404).send("There is no such page.");
      response.set(
        "content-security-policy",
        "default-src 'none'; img-src *; style-src 'unsafe-inline'; sandbox",
      );
      response.send(letter.html);
    });
    router.get("/", (_, response) => void response.send(this.page()));
    return router;
  }

  private page() {
    return String(
      html`<!doctype html>
        <html lang="en">
          <head>
            <meta charset="utf-8" />
            <meta name="viewport" content="width=device-width,initial-scale=1" />
            <title>Mail box</title>
            <link rel="icon" href="data:," />
            <style>
              body{font:16px/1.5 Georgia,serif;background:#efe9dc;color:#2b2620;margin:0 auto;max-width:46rem;padding:1rem}
              article{background:#fffdf6;border:1px solid #b9ab90;padding:.8rem 1.2rem;margin:1rem 0}
              pre{white-space:pre-wrap;font:inherit;margin:.4rem 0 0}h2{font-size:1.1rem;margin:0}
            </style>
          </head>
          <body>
            <main>
              <h1>Mail box</h1>
              <p>Every letter that is sent in this simulated world, to whomever.</p>
              ${this.letters.map(
                (one) =>
                  html`<article>
                    <h2>${one.subject}</h2>
                    <small>${one.from} to ${one.to}, ${one.at.slice(0, 16).replace("T", " ")}</small>
                    ${one.html !== "" && html`<small><a href="/mail/letters/${one.number}/page">As a page</a></small>`}
                    <pre>${one.text}</pre>
                  </article>`,
              )}
              ${this.letters.length === 0 && html`<p>No letters yet.</p>`}
            </main>
          </body>
        </html>`,
    );
  }
}
