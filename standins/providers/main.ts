import express from "express";
import type { Provider } from "../kit/provider";
import { weatherRoutes } from "../kit/weather";
import { MailBox } from "../mail/mail";
import { phoneRoutes } from "../phone/phone";
import { listen } from "../server";
import { addressBook } from "./address-book";
import { karvello } from "./karvello";
import { ostwick } from "./ostwick";
import { pennywhistle } from "./pennywhistle";
import { quippa } from "./quippa";
import { ratenhaus } from "./ratenhaus";
import { thumbra } from "./thumbra";

const file = process.env.STANDINS_STATE;
const origin = () => process.env.STANDINS_ORIGIN ?? `http://localhost:${process.env.PORT ?? 4100}`;
const shelf = (name: string) => file && file.replace(/(\.json)?$/, `-${name}.json`);

const device = thumbra(origin, shelf("thumbra"));
const houses: Provider[] = [
  karvello(origin, shelf("karvello"), device.opens),
  ostwick(origin, shelf("ostwick")),
  pennywhistle(origin, shelf("pennywhistle")),
  quippa(origin, shelf("quippa")),
  device,
  ratenhaus(origin, shelf("ratenhaus")),
];

const app = express();
app.disable("x-powered-by");
app.get("/", (_, response) => void response.send(addressBook(houses)));
app.get("/healthz", (_, response) => void response.json({ ok: true }));
for (const one of houses) {
  one.mount(app);
  app.use(`/weather/${one.house.name}`, weatherRoutes(one.house.name));
}
app.use("/phone", phoneRoutes(houses));

// Letters are taken where a port for them is named.
const mail = new MailBox();
app.use("/mail", mail.routes());
const mailPort = Number(process.env.SMTP_PORT ?? 0);
if (mailPort > 0) await mail.open(mailPort);

const rounds = setInterval(() => {
  for (const { post } of houses) post?.deliverAll();
}, 250);
listen(app, "Simulated providers", 4100, () => {
  clearInterval(rounds);
  mail.close();
  for (const { house } of houses) house.shelf.write();
});
