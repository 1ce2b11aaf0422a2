/** Deliveries that are under way, kept in the browser with the frames they have made, so that a closed page loses none. */
import { createStore, del, delMany, get, keys, set } from "idb-keyval";
import type { FrameFiles } from "./delivered";
import type { Delivery } from "./delivery";
import { plainLook } from "./frame-look";

export interface KeptDelivery {
  readonly delivery: Delivery;
  readonly done: number;
}

/** Opened at the first use: a server has no storage. */
let opened: ReturnType<typeof createStore> | null = null;
const store = () => {
  opened ??= createStore("glemmo-deliveries", "kept");
  return opened;
};

const jobKey = (id: string): string => `job ${id}`;
const frameKey = (id: string, frame: number): string => `frame ${id} ${frame}`;

/** Without browser storage a delivery lasts as long as the page. */
const quietly = (work: Promise<unknown>): Promise<void> =>
  work.then(
    () => undefined,
    () => undefined,
  );

export const keepDelivery = (kept: KeptDelivery): Promise<void> =>
  quietly(set(jobKey(kept.delivery.id), kept, store()));

/** Its frames too. */
export async function forgetDelivery(id: string): Promise<void> {
  await quietly(
    (async () => {
      await del(jobKey(id), store());
      const all = await keys<string>(store());
      await delMany(
        all.filter((key) => key.startsWith(`frame ${id} `)),
        store(),
      );
    })(),
  );
}

/** What looks have now and had not when it was lined up is as usual. */
const withLook = (delivery: Delivery): Delivery => ({
  ...delivery,
  look: { ...plainLook(delivery.document.settings.size), ...delivery.look },
});

/** Those that no open page works on. */
export async function keptDeliveries(): Promise<readonly KeptDelivery[]> {
  try {
    const held = await navigator.locks.query();
    const busy = new Set(held.held?.map(({ name }) => name));
    const all = await keys<string>(store());
    const jobs = all.filter((key) => key.startsWith("job ") && !busy.has(lockOf(key.slice(4))));
    const kept = await Promise.all(jobs.map((key) => get<KeptDelivery>(key, store())));
    return kept.flatMap((one) => (one ? [{ ...one, delivery: withLook(one.delivery) }] : []));
  } catch {
    return [];
  }
}

const lockOf = (id: string): string => `delivery ${id}`;

/** Keeps other pages from taking a delivery up until what is given is called; null when one of them has it. */
export const holdDelivery = (id: string): Promise<(() => void) | null> =>
  new Promise((given) => {
    void navigator.locks.request(lockOf(id), { ifAvailable: true }, (lock) =>
      lock ? new Promise<void>((release) => given(release)) : given(null),
    );
  });

export const framesOfDelivery = (id: string): FrameFiles => ({
  get: (frame) => get<Uint8Array>(frameKey(id, frame), store()).catch(() => undefined),
  put: (frame, bytes) => quietly(set(frameKey(id, frame), bytes, store())),
});
