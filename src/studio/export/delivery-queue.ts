/** Deliveries one after the other, for as long as the page lives; those that were left unfinished can go on. */
import { createStore } from "zustand/vanilla";
import { download } from "@/ui/download";
import type { Watch } from "./delivered";
import { type Delivery, deliver, endingOf, framesIn, goesOn, stemOf } from "./delivery";
import {
  forgetDelivery,
  framesOfDelivery,
  holdDelivery,
  keepDelivery,
  keptDeliveries,
} from "./kept-deliveries";

export interface Job {
  readonly delivery: Delivery;
  readonly state: "waits" | "works" | "stopped" | "failed";
  readonly done: number;
  readonly total: number;
  /** Milliseconds; null before a frame is done. */
  readonly left: number | null;
  /** What is said of it when it has stopped or failed. */
  readonly what: string | null;
}

export const deliveryQueue = createStore<{ readonly jobs: readonly Job[] }>(() => ({ jobs: [] }));

/** Those that are to stop. */
const stopping = new Set<string>();
const waiting = new Map<string, (isDone: boolean) => void>();
/** Lets other pages take a delivery up. */
const releases = new Map<string, () => void>();
let isWorking = false;

const jobOf = (id: string) => deliveryQueue.getState().jobs.find(({ delivery }) => delivery.id === id);

function change(id: string, to: Partial<Job>): void {
  deliveryQueue.setState(({ jobs }) => ({
    jobs: jobs.map((job) => (job.delivery.id === id ? { ...job, ...to } : job)),
  }));
}

function drop(id: string): void {
  deliveryQueue.setState(({ jobs }) => ({ jobs: jobs.filter(({ delivery }) => delivery.id !== id) }));
}

/** Lines a delivery up; settles with whether it was done to its end. */
export function addDelivery(delivery: Delivery): Promise<boolean> {
  const total = framesIn(delivery);
  const job: Job = { delivery, state: "waits", done: 0, total, left: null, what: null };
  deliveryQueue.setState(({ jobs }) => ({ jobs: [...jobs, job] }));
  void keepDelivery({ delivery, done: 0 });
  void begin(delivery.id);
  return new Promise((settle) => waiting.set(delivery.id, settle));
}

/** What is done is taken away and kept. */
export function stopDelivery(id: string): void {
  if (jobOf(id)?.state !== "waits") {
    stopping.add(id);
    return;
  }
  change(id, { state: "stopped", what: "It had not begun." });
  settle(id, false);
}

/** Goes on where it was left. */
export async function goOn(id: string): Promise<void> {
  const folder = jobOf(id)?.delivery.folder;
  // A page that was opened again has to ask once more.
  if (folder && (await folder.requestPermission?.({ mode: "readwrite" })) === "denied") {
    change(id, { what: "The browser does not let the page write into that folder any more." });
    return;
  }
  change(id, { state: "waits", what: null });
  await begin(id);
}

async function begin(id: string): Promise<void> {
  const release = await holdDelivery(id);
  if (!release) {
    change(id, { state: "stopped", what: "Another page of Glemmo works on it." });
    return;
  }
  releases.set(id, release);
  void work();
}

/** Takes the frames that are there. */
export async function takeThose(id: string): Promise<void> {
  const job = jobOf(id);
  if (job) await run(job, () => true);
}

export async function forget(id: string): Promise<void> {
  drop(id);
  await forgetDelivery(id);
}

/** Brings those back that a closed page left; each once. */
export async function restoreDeliveries(): Promise<void> {
  for (const { delivery, done } of await keptDeliveries()) {
    if (jobOf(delivery.id)) continue;
    const total = framesIn(delivery);
    const what = `The page was closed after ${done} of ${total} frames${goesOn(delivery) ? "." : "; it begins again."}`;
    const job: Job = { delivery, state: "stopped", done, total, left: null, what };
    deliveryQueue.setState(({ jobs }) => ({ jobs: [...jobs, job] }));
  }
}

async function work(): Promise<void> {
  if (isWorking) return;
  isWorking = true;
  try {
    for (;;) {
      const next = deliveryQueue
        .getState()
        .jobs.find(({ state, delivery }) => state === "waits" && releases.has(delivery.id));
      if (!next) return;
      const { id } = next.delivery;
      await run(next, () => stopping.has(id));
      stopping.delete(id);
    }
  } finally {
    isWorking = false;
  }
}

function settle(id: string, isDone: boolean): void {
  releases.get(id)?.();
  releases.delete(id);
  waiting.get(id)?.(isDone);
  waiting.delete(id);
}

async function run({ delivery, done }: Job, stopped: () => boolean): Promise<void> {
  const { id } = delivery;
  const before = goesOn(delivery) ? done : 0;
  // Frames that were there already take no time: counting begins after them.
  let [begun, had] = [performance.now(), 0];
  const watch: Watch = {
    stopped,
    onFrame(done, total) {
      if (done <= before) [begun, had] = [performance.now(), done];
      const each = (performance.now() - begun) / Math.max(1, done - had);
      change(id, { done, total, left: done > had ? each * (total - done) : null });
      void keepDelivery({ delivery, done });
    },
  };
  change(id, { state: "works" });
  try {
    const { blob, done, total } = await deliver(delivery, watch, framesOfDelivery(id), before);
    const ending = endingOf(delivery);
    if (blob && done > 0) download(blob, `${stemOf(delivery)}-${delivery.first}-${delivery.last}.${ending}`);
    if (done < total) {
      const where = delivery.folder ? "folder" : `.${ending}`;
      change(id, {
        state: "stopped",
        done,
        what: `Stopped after ${done} of ${total} frames; those are in the ${where}.`,
      });
    } else {
      drop(id);
      const forgotten = forgetDelivery(id);
      settle(id, true);
      await forgotten;
      return;
    }
    settle(id, false);
  } catch (error) {
    change(id, { state: "failed", what: (error as Error).message });
    settle(id, false);
  }
}
