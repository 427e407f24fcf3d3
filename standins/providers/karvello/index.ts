import type { Express } from "express";
import { weatherRoutes } from "../../kit/weather";
import { apiRoutes } from "./api";
import { deliver } from "./bells";
import { Karvello, type OpensToken } from "./books";
import { dashboardRoutes } from "./dashboard";
import { frameRoutes } from "./frame";

/** Karvello: cards, typed into its own frame. */
export function karvello(origin: () => string, file?: string, opensToken?: OpensToken) {
  const house = new Karvello(origin, file, opensToken);
  const sides = ["sandbox", "live"] as const;
  return {
    mount(app: Express) {
      for (const side of sides) {
        app.use(`/karvello/${side}/api`, apiRoutes(house, side));
        app.use(`/karvello/${side}`, frameRoutes(house, side));
      }
      app.use("/karvello/dashboard", dashboardRoutes(house));
      app.use("/weather/karvello", weatherRoutes("karvello"));
    },
    deliverAll: () => sides.forEach((side) => void deliver(house, side)),
    write: () => house.shelf.write(),
  };
}
