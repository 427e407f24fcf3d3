// Zahlung without pages, as a process of its own that a test can end or kill: the same front, the same worker.
import { openFront } from "#server/http/front";
import { startWorker } from "#server/jobs/worker";
import { openRuntime } from "#server/runtime";
import { readSettings } from "#server/settings";

const settings = readSettings(process.env, { production: true });
const rt = await openRuntime(settings, { root: process.cwd() });
const { server } = openFront(rt);
server.listen(settings.port);
const endWorker = startWorker(rt);
process.once("SIGTERM", () => {
  server.close(() => void endWorker().then(() => (rt.db.close(), process.exit(0))));
  server.closeIdleConnections();
});
