/**
 * The compiled kernels of this thread. Loaded at the first use, at once and from text, so that every thread and
 * every kind of process has the same bytes without waiting.
 */
import { KernelMemory } from "./memory";
import { WASM } from "./wasm";

/** A kernel takes a count and then addresses and numbers, as its source says; few give a number back. */
export type Kernel = (...args: number[]) => number | undefined;

export class NoKernels extends Error {
  constructor(detail: string) {
    super(
      `This browser cannot run Glemmo's engine: it has no WebAssembly with SIMD and shared memory (${detail}). A newer version of it will.`,
    );
  }
}

/** Pages of the compiler's own tables (see scripts/build-kernels.mjs). */
const TABLE_PAGES = 4;

/** @throws NoKernels */
function makeMemory(initial: number, maximum: number): WebAssembly.Memory {
  try {
    return new WebAssembly.Memory({ initial, maximum, shared: true });
  } catch (error) {
    throw new NoKernels((error as Error).message);
  }
}

/** Kernels bound to a memory. */
export class Kernels {
  private all: Float32Array;

  private constructor(
    private readonly memory: WebAssembly.Memory,
    private readonly exported: Readonly<Record<string, Kernel>>,
  ) {
    this.all = new Float32Array(memory.buffer);
  }

  /** @throws NoKernels */
  static load(memory: WebAssembly.Memory): Kernels {
    const binary = atob(WASM);
    const bytes = Uint8Array.from(binary, (c) => c.charCodeAt(0));
    try {
      const env = { memory, abort: () => undefined };
      const { exports } = new WebAssembly.Instance(new WebAssembly.Module(bytes), { env });
      return new Kernels(memory, exports as Record<string, Kernel>);
    } catch (error) {
      throw new NoKernels((error as Error).message);
    }
  }

  /**
   * For kernels of single numbers: no more memory than their tables, so that a page can use them beside the engine.
   * @throws NoKernels
   */
  static withoutMemory(): Kernels {
    return Kernels.load(makeMemory(TABLE_PAGES, TABLE_PAGES));
  }

  kernel(name: string): Kernel {
    const found = this.exported[name];
    if (!found) throw new Error(`There is no kernel "${name}".`);
    return found;
  }

  /** The whole memory as numbers, as far as it has grown by now. */
  get floats(): Float32Array {
    if (this.all.buffer !== this.memory.buffer) this.all = new Float32Array(this.memory.buffer);
    return this.all;
  }
}

/** What one thread evaluates with: its kernels and the memory that it hands out. */
export interface Engine {
  readonly kernels: Kernels;
  readonly memory: KernelMemory;
}

let loaded: Engine | null = null;

/** The engine of this thread. @throws NoKernels */
export function engine(): Engine {
  if (!loaded) {
    let memory: KernelMemory;
    try {
      memory = KernelMemory.create();
    } catch (error) {
      throw new NoKernels((error as Error).message);
    }
    loaded = { memory, kernels: Kernels.load(memory.memory) };
  }
  return loaded;
}

/** Makes another engine this thread's. */
export function setEngine(engine: Engine): void {
  loaded = engine;
}

/** Stretches for as long as a piece of work takes. */
export class Scratch {
  private readonly taken: number[] = [];

  constructor(readonly engine: Engine) {}

  /** Address of room for so many bytes. @throws OutOfMemory */
  room(bytes: number): number {
    const address = this.engine.memory.allocate(bytes);
    this.taken.push(address);
    return address;
  }

  /** Address of a copy of the numbers: integers as they are, all others as floats. @throws OutOfMemory */
  place(values: ArrayLike<number>): number {
    const address = this.room(values.length * 4);
    if (values instanceof Int32Array)
      new Int32Array(this.engine.memory.memory.buffer, address, values.length).set(values);
    else this.engine.kernels.floats.set(values, address / 4);
    return address;
  }

  release(): void {
    for (const address of this.taken) this.engine.memory.release(address);
    this.taken.length = 0;
  }
}

/** Runs `work` with scratch that is given back afterwards. */
export function withScratch<T>(work: (scratch: Scratch) => T): T {
  const scratch = new Scratch(engine());
  try {
    return work(scratch);
  } finally {
    scratch.release();
  }
}
