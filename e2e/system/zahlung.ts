// Zahlung without pages, as a process of its own that a test can kill: the same front, the same worker.
import { openFront } from "#server/http/front";
import { startWorker } from "#server/jobs/worker";
import { openRuntime } from "#server/runtime";
import { readSettings } from "#server/settings";

const settings = readSettings(process.env, { production: true });
const rt = await openRuntime(settings, { root: process.cwd() });
const { server } = openFront(rt);
server.listen(settings.port);
startWorker(rt);
