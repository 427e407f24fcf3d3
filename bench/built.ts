import { spawn } from "node:child_process";
import { demoOwner } from "../demo/scenario";
import { kill, type SystemWorld } from "../e2e/system/world";
import { freePort, untilAnswers } from "../scripts/setup.mjs";

/** The built application on a world's database, without background work; `cookie` is the demo owner's session. */
export async function startBuilt(world: SystemWorld) {
  const port = await freePort();
  const origin = `http://localhost:${port}`;
  const child = spawn(process.execPath, ["server.js"], {
    env: {
      ...process.env,
      ...world.env,
      PORT: String(port),
      ZAHLUNG_ORIGIN: origin,
      ZAHLUNG_ROLES: "web",
      NODE_ENV: "production",
    },
    stdio: ["ignore", "ignore", "inherit"],
  });
  await untilAnswers("Zahlung", `${origin}/readyz`, child);
  const signedIn = await fetch(`${origin}/sign-in`, {
    method: "POST",
    body: new URLSearchParams({ email: demoOwner.email, password: demoOwner.password }),
    redirect: "manual",
  });
  const cookie = signedIn.headers.get("set-cookie")?.split(";")[0] ?? "";
  return { origin, cookie, end: () => kill(child, "SIGTERM") };
}
