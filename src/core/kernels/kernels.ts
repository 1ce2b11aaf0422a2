/**
 * The compiled kernels and the memory they work in. Loaded at the first use, at once and from text, so that every
 * thread and every kind of process has the same bytes without waiting.
 */
import { WASM } from "./wasm";

/** A kernel takes a count and then addresses and numbers, as its source says; few give a number back. */
export type Kernel = (...args: number[]) => number | undefined;

/** Registers and tables begin here, above the compiler's own tables. */
const FIRST_FREE = 1 << 18;
const PAGE = 1 << 16;
/** 1 GB: registers of the longest program that is allowed take far less. */
const MOST_PAGES = 1 << 14;

export class NoKernels extends Error {
  constructor(detail: string) {
    super(
      `This browser cannot run Glemmo's engine: it has no WebAssembly with SIMD (${detail}). A newer version of it will.`,
    );
  }
}

/** Addresses are handed out one after the other and given back all at once. */
export class Kernels {
  private next = FIRST_FREE;
  /** The whole memory as numbers; replaced when it grows, so not to be held across `reserve`. */
  floats: Float32Array;

  private constructor(
    private readonly memory: WebAssembly.Memory,
    private readonly exported: Readonly<Record<string, Kernel>>,
  ) {
    this.floats = new Float32Array(memory.buffer);
  }

  /** @throws NoKernels */
  static load(): Kernels {
    const binary = atob(WASM);
    const bytes = Uint8Array.from(binary, (c) => c.charCodeAt(0));
    try {
      const memory = new WebAssembly.Memory({ initial: 16, maximum: MOST_PAGES });
      const env = { memory, abort: () => undefined };
      const { exports } = new WebAssembly.Instance(new WebAssembly.Module(bytes), { env });
      return new Kernels(memory, exports as Record<string, Kernel>);
    } catch (error) {
      throw new NoKernels((error as Error).message);
    }
  }

  kernel(name: string): Kernel {
    const found = this.exported[name];
    if (!found) throw new Error(`There is no kernel "${name}".`);
    return found;
  }

  /** Address of room for so many numbers, padded to four. @throws RangeError when memory runs out */
  reserve(count: number): number {
    const address = this.next;
    this.next += ((count + 3) & ~3) * 4;
    const missing = this.next - this.memory.buffer.byteLength;
    if (missing > 0) {
      this.memory.grow(Math.ceil(missing / PAGE));
      this.floats = new Float32Array(this.memory.buffer);
    }
    return address;
  }

  /** Address of a copy of the numbers. */
  place(values: ArrayLike<number>): number {
    const address = this.reserve(values.length);
    this.floats.set(values, address >> 2);
    return address;
  }

  /** Runs `work`, then takes back everything that it reserved. */
  scoped<T>(work: () => T): T {
    const before = this.next;
    try {
      return work();
    } finally {
      this.next = before;
    }
  }
}

let loaded: Kernels | null = null;

/** The kernels of this thread. @throws NoKernels */
export function kernels(): Kernels {
  loaded ??= Kernels.load();
  return loaded;
}
