import type { Runtime } from "../runtime";
import { kinds } from "./kinds";
import { Runner } from "./runner";

/** Starts the background work. The returned function ends it after the jobs that are being done. */
export function startWorker(rt: Runtime): () => Promise<void> {
  const runner = new Runner(rt, kinds);
  runner.start();
  return () => runner.end();
}
