import { ToldError } from "#core/said";
import { and, eq, inArray, lte, sql } from "drizzle-orm";
import { type BackOff, waitAfter } from "#core/jobs/back-off";
import { rowsBy } from "../database/prepared";
import type { Job } from "../database/rows";
import { jobs } from "../database/schema";
import type { Runtime } from "../runtime";
import { type JobKind, seeTo } from "./jobs";

/** What became of a job that did not fail. `again`: milliseconds until it is to be looked at once more. */
export type Done = { end: true } | { again: number; progress?: Record<string, unknown> };

/** What a kind of work does and how it is tried again. */
export interface Kind {
  /** Does one job. Throwing means that it failed, and that it is tried again after a while. */
  work: (rt: Runtime, job: Job) => Promise<Done>;
  backOff: BackOff;
  /** Jobs of this kind that one process does at the same time. */
  atOnce: number;
  /** Jobs of one lane that one process does at the same time. */
  ofOneLane: number;
  /** Comes round by itself: milliseconds between rounds. There is one job of the kind, and it never ends. */
  every?: number;
  /** Called when it is given up. */
  onGivenUp?: (rt: Runtime, job: Job) => Promise<void>;
}

export type Kinds = Record<JobKind, Kind>;

/** How long whoever has taken a job is believed to be at it without a sign of life. */
const LEASE = 30_000;
const SIGN_OF_LIFE = 10_000;
/** How long the table is left alone when nothing was due; another process may have put something in. */
const POLL = 250;
const AT_A_TIME = 100;
/** More of one lane than any kind does at the same time are not looked at. */
const OF_A_LANE = 8;
const MOST_WORDS = 500;

interface Due {
  id: string;
  kind: string;
  lane: string;
}
/** What has all the work that it may have at once: kinds, and lanes of kinds as "kind lane". */
interface Full {
  kinds: string[];
  lanes: string[];
}

/**
 * What is due, the oldest first. It goes from lane to lane and looks at the beginning of each, so that a hundred thousand
 * jobs which wait in a full lane cost nothing whenever a job of another is taken.
 */
export const dueIn = (now: number, full: Full) => sql`
  with recursive lanes(first) as (
    select (select rowid from jobs where run_at is not null order by kind, lane limit 1)
    union all
    select coalesce(
      (select rowid from jobs where run_at is not null and kind = l.kind and lane > l.lane order by lane limit 1),
      (select rowid from jobs where run_at is not null and kind > l.kind order by kind, lane limit 1)
    ) from lanes join jobs l on l.rowid = lanes.first
  )
  select j.id, j.kind, j.lane from lanes
  join jobs l on l.rowid = lanes.first
  join jobs j on j.rowid in (
    select d.rowid from jobs d where d.kind = l.kind and d.lane = l.lane and d.run_at <= ${now}
    order by d.run_at limit ${OF_A_LANE}
  )
  where l.kind not in (select value from json_each(${JSON.stringify(full.kinds)}))
    and l.kind || ' ' || l.lane not in (select value from json_each(${JSON.stringify(full.lanes)}))
  order by j.run_at limit ${AT_A_TIME}`;

/**
 * Takes due jobs and does them side by side: so many of a kind, so many of a lane. What fails backs off by itself and
 * stands in nobody's way. Any number of runners share one table: a job is leased before it is done, and one whose
 * runner died is taken up by another when its lease is over.
 */
const leased = rowsBy(jobs, ["lease"]);

export class Runner {
  readonly #running = new Map<string, { kind: JobKind; lane: string; done: Promise<void> }>();
  #ended = false;
  #wake: () => void = () => {};
  #nudged = false;
  #loop: Promise<void> | null = null;
  #signs: ReturnType<typeof setInterval> | undefined;

  constructor(
    readonly rt: Runtime,
    readonly kinds: Kinds,
  ) {}

  start(): void {
    this.rt.onNudge.add(this.#nudge);
    this.#signs = setInterval(() => void this.#giveSigns(), SIGN_OF_LIFE);
    this.#loop = this.#run();
  }

  /** Ends after the jobs that are being done. */
  async end(): Promise<void> {
    this.#ended = true;
    this.rt.onNudge.delete(this.#nudge);
    this.#nudge();
    await this.#loop;
    await Promise.all([...this.#running.values()].map((one) => one.done));
    clearInterval(this.#signs);
  }

  readonly #nudge = () => {
    this.#nudged = true;
    this.#wake();
  };

  #sleep(ms: number): Promise<void> {
    if (this.#nudged || this.#ended) return Promise.resolve();
    return new Promise((resolve) => {
      const timer = setTimeout(resolve, ms);
      this.#wake = () => {
        clearTimeout(timer);
        resolve();
      };
    });
  }

  async #run(): Promise<void> {
    let begun = false;
    while (!this.#ended) {
      this.#nudged = false;
      let taken = 0;
      try {
        if (!begun) await this.#begin();
        begun = true;
        taken = await this.#take();
      } catch (error) {
        this.rt.log.error({ err: error }, "background work could not be taken up");
        await this.#sleep(1_000);
      }
      if (taken === 0) await this.#sleep(POLL);
    }
  }

  /** Work that comes round by itself is there from the first start on. */
  async #begin(): Promise<void> {
    const recurring = Object.entries(this.kinds).filter(([, { every }]) => every !== undefined);
    await this.rt.db.write(
      recurring.map(([kind]) => seeTo(this.rt, { kind: kind as JobKind, key: "all", lane: kind })),
    );
  }

  #count(matches: (one: { kind: JobKind; lane: string }) => boolean): number {
    let count = 0;
    for (const one of this.#running.values()) if (matches(one)) count += 1;
    return count;
  }

  #full(): Full {
    const kinds = Object.entries(this.kinds)
      .filter(([kind, { atOnce }]) => this.#count((one) => one.kind === kind) >= atOnce)
      .map(([kind]) => kind);
    const lanes = new Set<string>();
    for (const { kind, lane } of this.#running.values())
      if (this.#count((one) => one.kind === kind && one.lane === lane) >= this.kinds[kind].ofOneLane)
        lanes.add(`${kind} ${lane}`);
    return { kinds, lanes: [...lanes] };
  }

  /** Takes what is due and begins it. Returns how much that was. */
  async #take(): Promise<number> {
    const { orm } = this.rt.db;
    const now = this.rt.now();
    const chosen = this.#choose(await orm.all<Due>(dueIn(now, this.#full())));
    if (chosen.length === 0) return 0;
    const lease = this.rt.ids.next("lease");
    // Whoever was quicker has moved the time on, so that no job is taken twice.
    await this.rt.db.write([
      orm
        .update(jobs)
        .set({ lease, runAt: now + LEASE, triedAt: now })
        .where(and(inArray(jobs.id, chosen), lte(jobs.runAt, now))),
    ]);
    const mine = await leased(this.rt.db).all({ lease });
    for (const job of mine) this.#beginOne(job);
    return mine.length;
  }

  /** Of what is due as much as kinds and lanes may have beside what they have. */
  #choose(due: readonly Due[]): string[] {
    const counts = new Map<string, number>();
    const room = (name: string, running: () => number, most: number) => {
      const count = counts.get(name) ?? running();
      if (count >= most) return false;
      counts.set(name, count + 1);
      return true;
    };
    return due.flatMap(({ id, kind, lane }) => {
      const known = Object.hasOwn(this.kinds, kind) ? this.kinds[kind as JobKind] : undefined;
      if (!known || this.#running.has(id)) return [];
      const ofLane = () => this.#count((one) => one.kind === kind && one.lane === lane);
      const ofKind = () => this.#count((one) => one.kind === kind);
      return room(`${kind} ${lane}`, ofLane, known.ofOneLane) && room(kind, ofKind, known.atOnce) ? [id] : [];
    });
  }

  #beginOne(job: Job): void {
    const done = this.#do(job).finally(() => {
      this.#running.delete(job.id);
      // Its place is free for the next.
      this.#nudge();
    });
    this.#running.set(job.id, { kind: job.kind as JobKind, lane: job.lane, done });
  }

  async #do(job: Job): Promise<void> {
    const { rt } = this;
    const kind = this.kinds[job.kind as JobKind];
    try {
      try {
        await this.#settle(job, await kind.work(rt, job), kind);
      } catch (error) {
        await this.#failed(job, kind, error);
      }
    } catch (error) {
      // Its lease ends by itself, and it is done again.
      rt.log.error({ err: error, job: job.kind, key: job.key }, "a job could not be settled");
    }
  }

  /** Writes what became of a job; one that was asked for meanwhile is done once more. */
  async #settle(job: Job, done: Done, { every }: Kind): Promise<void> {
    const { orm } = this.rt.db;
    const mine = and(eq(jobs.id, job.id), eq(jobs.lease, job.lease ?? ""));
    const now = this.rt.now();
    const again = "again" in done ? done.again : every;
    const calm = { lease: null, tries: 0, error: null };
    const askedMeanwhile = sql`${jobs.asked} <> ${job.asked}`;
    const later = again === undefined ? now : now + again;
    await this.rt.db.write([
      ...(again === undefined ? [orm.delete(jobs).where(and(mine, eq(jobs.asked, job.asked)))] : []),
      orm
        .update(jobs)
        .set({
          ...calm,
          runAt: sql`case when ${askedMeanwhile} then ${now} else ${later} end`,
          // Whether it is to be given up is reckoned from here on, should it fail.
          createdAt: now,
          ...("progress" in done && { progress: done.progress ?? null }),
        })
        .where(mine),
    ]);
  }

  async #failed(job: Job, kind: Kind, error: unknown): Promise<void> {
    const { rt } = this;
    const now = rt.now();
    const tries = job.tries + 1;
    const wait = waitAfter(kind.backOff, tries, now - job.createdAt);
    rt.log.warn({ err: error, job: job.kind, key: job.key, tries, wait }, "a job failed");
    await rt.db.write([
      rt.db.orm
        .update(jobs)
        .set({
          lease: null,
          tries,
          error:
            error instanceof ToldError
              ? error.says
              : (error instanceof Error ? error.message : String(error)).slice(0, MOST_WORDS),
          runAt: wait === null ? null : now + wait,
        })
        .where(and(eq(jobs.id, job.id), eq(jobs.lease, job.lease ?? ""))),
    ]);
    if (wait === null) await kind.onGivenUp?.(rt, job);
  }

  /** Leases of what takes longer are drawn out, so that nobody else takes it up meanwhile. */
  async #giveSigns(): Promise<void> {
    const ids = [...this.#running.keys()];
    if (ids.length === 0) return;
    try {
      await this.rt.db.write([
        this.rt.db.orm
          .update(jobs)
          .set({ runAt: this.rt.now() + LEASE })
          .where(and(inArray(jobs.id, ids), sql`lease is not null`)),
      ]);
    } catch (error) {
      this.rt.log.warn({ err: error }, "leases could not be drawn out");
    }
  }
}
