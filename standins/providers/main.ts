import express from "express";
import { listen } from "../server";
import { html } from "../html";
import { apiRoutes } from "./karvello/api";
import { deliver } from "./karvello/bells";
import { Karvello } from "./karvello/books";
import { dashboardRoutes } from "./karvello/dashboard";
import { frameRoutes } from "./karvello/frame";
import { weatherRoutes } from "./karvello/weather";

const file = process.env.STANDINS_STATE;
const karvello = new Karvello(
  () => process.env.STANDINS_ORIGIN ?? `http://localhost:${process.env.PORT ?? 4100}`,
  file,
);

const app = express();
app.disable("x-powered-by");
app.get("/", (_, response) => {
  response.send(
    String(
      html`<!doctype html>
        <html lang="en">
          <head>
            <title>Simulated providers</title>
            <link rel="icon" href="data:," />
          </head>
          <body>
            <h1>Simulated providers</h1>
            <ul>
              <li><a href="/karvello/dashboard">Karvello, cards</a></li>
            </ul>
          </body>
        </html>`,
    ),
  );
});
app.get("/healthz", (_, response) => void response.json({ ok: true }));
for (const side of ["sandbox", "live"] as const) {
  app.use(`/karvello/${side}/api`, apiRoutes(karvello, side));
  app.use(`/karvello/${side}`, frameRoutes(karvello, side));
}
app.use("/karvello/dashboard", dashboardRoutes(karvello));
app.use("/weather/karvello", weatherRoutes());

const rounds = setInterval(() => {
  for (const side of ["sandbox", "live"] as const) void deliver(karvello, side);
}, 250);
listen(app, "Simulated providers", 4100, () => {
  clearInterval(rounds);
  karvello.shelf.write();
});
