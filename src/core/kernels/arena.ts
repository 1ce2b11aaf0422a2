/**
 * Who has which columns in the kernels' memory, and until when. While an evaluation runs, its arena is the current
 * one and large lanes are made in it; afterwards the evaluation names the lanes that it published, and all others go
 * back at once. A lane whose owner is forgotten altogether goes back when the garbage collector finds it.
 */
import { engine } from "./kernels";
import type { Allocation } from "./memory";

type Lane = Float32Array | Int32Array;

/** An allocation that lanes stand in. */
interface Stay {
  readonly address: number;
  readonly bytes: number;
  readonly arena: Arena;
}

/** Elements from which a lane is worth an allocation of its own; shorter ones are ordinary arrays. */
let shortest = 4096;
/** What given-back lanes are overwritten with, so that tests see a use after it. */
let poison: number | null = null;

/** For tests: shorter lanes in the memory too, and lanes that are given back made useless. */
export function arenaRules(rules: { shortest: number; poison: number | null }): void {
  ({ shortest, poison } = rules);
}

const forgotten = new FinalizationRegistry<Stay>((stay) => stay.arena.giveBack(stay));

let current: Arena | null = null;

export class Arena {
  private readonly stays = new Map<number, Stay>();
  /** Lanes were made since the last `keepOnly`. */
  unsorted = false;

  /** Runs `work`; lanes made meanwhile are this arena's. */
  within<T>(work: () => T): T {
    const before = current;
    current = this;
    try {
      return work();
    } finally {
      current = before;
    }
  }

  /** Bytes of all lanes. */
  get bytes(): number {
    let sum = 0;
    for (const stay of this.stays.values()) sum += stay.bytes;
    return sum;
  }

  make<T extends Lane>(count: number, view: (memory: ArrayBufferLike, address: number) => T): T {
    const { memory } = engine();
    const address = memory.allocate(count * 4);
    const lane = view(memory.memory.buffer, address);
    this.adopt(lane);
    return lane;
  }

  /** Takes a lane over that stands at the beginning of an allocation of its own. */
  adopt(lane: Lane): void {
    const address = lane.byteOffset;
    const stay = { address, bytes: engine().memory.sizeOf(address), arena: this };
    this.stays.set(address, stay);
    this.unsorted = true;
    forgotten.register(lane, stay);
  }

  /** Allocations of all lanes. */
  get allocations(): readonly Allocation[] {
    return [...this.stays.values()].map(({ address, bytes }) => ({ address, bytes }));
  }

  /** Gives all lanes back but these (and those that these are parts of). */
  keepOnly(published: Iterable<Lane>): void {
    this.unsorted = false;
    const kept = new Set<Stay>();
    for (const lane of published) {
      if (!isShared(lane)) continue;
      const stay = this.stays.get(lane.byteOffset) ?? this.around(lane.byteOffset);
      if (stay) kept.add(stay);
    }
    for (const stay of this.stays.values()) if (!kept.has(stay)) this.giveBack(stay);
  }

  /** Forgets all lanes: they are someone else's now. */
  abandon(): void {
    this.stays.clear();
  }

  /** Does nothing for an allocation that has been given back already. */
  giveBack(stay: Stay): void {
    if (this.stays.get(stay.address) !== stay) return;
    this.stays.delete(stay.address);
    const { memory, kernels } = engine();
    if (poison !== null) kernels.floats.fill(poison, stay.address / 4, (stay.address + stay.bytes) / 4);
    memory.release(stay.address);
  }

  private around(address: number): Stay | undefined {
    for (const stay of this.stays.values())
      if (stay.address < address && address < stay.address + stay.bytes) return stay;
    return undefined;
  }
}

/** A lane whose numbers are not set yet: in the current arena when there is one and the lane is long enough. */
export const roomForFloats = (count: number): Float32Array =>
  current && count >= shortest
    ? current.make(count, (memory, address) => new Float32Array(memory, address, count))
    : new Float32Array(count);

export const roomForIntegers = (count: number): Int32Array =>
  current && count >= shortest
    ? current.make(count, (memory, address) => new Int32Array(memory, address, count))
    : new Int32Array(count);

/** Whether a lane is long enough for the current arena, and elsewhere. */
export const wantsMemory = (lane: ArrayLike<number>): boolean =>
  current !== null && lane.length >= shortest && addressOf(lane) === null;

/** Lanes in the kernels' memory however short they are. Only while an arena is current. */
export const integersInMemory = (count: number): Int32Array =>
  currentArena().make(count, (memory, address) => new Int32Array(memory, address, count));

export const floatsInMemory = (count: number): Float32Array =>
  currentArena().make(count, (memory, address) => new Float32Array(memory, address, count));

/** The lane, or a copy of it where kernels can read it. */
export function inMemory<L extends Lane>(lane: L): L {
  if (addressOf(lane) !== null) return lane;
  const copy = (
    lane instanceof Int32Array ? integersInMemory(lane.length) : floatsInMemory(lane.length)
  ) as L;
  copy.set(lane);
  return copy;
}

/** A copy that kernels may write. Only while an arena is current. */
export function copyInMemory(lane: ArrayLike<number>): Float32Array {
  const copy = floatsInMemory(lane.length);
  copy.set(lane);
  return copy;
}

/** Runs `work` in an arena of its own, whose lanes go back when it ends, however it ends: what it gives must be ordinary arrays. */
export function passing<T>(work: () => T): T {
  const arena = new Arena();
  try {
    return arena.within(work);
  } finally {
    arena.keepOnly([]);
  }
}

export function currentArena(): Arena {
  if (!current) throw new Error("No arena is current.");
  return current;
}

/** Address of a lane that stands in the kernels' memory; null for an ordinary array. */
export const addressOf = (lane: ArrayLike<number>): number | null =>
  ArrayBuffer.isView(lane) && isShared(lane) ? lane.byteOffset : null;

// By name: a view may come from another realm, where its buffer has another class. Nothing else is shared.
const isShared = ({ buffer }: ArrayBufferView): boolean => buffer[Symbol.toStringTag] === "SharedArrayBuffer";
