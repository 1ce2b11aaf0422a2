/**
 * The one memory that all kernels of an engine work in, whichever thread runs them: columns, registers, tables, and
 * what is drawn. Allocations are handed out first fit by address, so that what a frame gives back serves the next one
 * and the memory stops growing; neighbours that are free become one.
 */

const PAGE = 1 << 16;
/** Allocations begin here, above the compiler's own tables. */
const FIRST = 1 << 18;
/** A cache line: no two allocations share one. */
const ALIGNED = 64;
/** Kernels write whole vectors of four elements, so up to three past the last one; the widest are matrices. */
const PAST_END = 3 * 64;
/** Pages at most, the first that the system grants: 4 GB, or less where addresses are short. */
const CEILINGS = [65_536, 32_768, 16_384, 8_192];

export class OutOfMemory extends Error {
  constructor(asked: number, used: number, ceiling: number) {
    const mega = (bytes: number) => `${Math.ceil(bytes / 2 ** 20)} MB`;
    super(
      `There is not enough memory for this: ${mega(asked)} more beside ${mega(used)} in use, of ${mega(ceiling)}. Ask for fewer elements.`,
    );
  }
}

export interface Allocation {
  address: number;
  bytes: number;
}

export class KernelMemory {
  /** Free allocations by address; no two touch. */
  private readonly free: Allocation[] = [];
  private readonly taken = new Map<number, number>();
  /** Bytes handed out. */
  used = 0;

  private constructor(
    readonly memory: WebAssembly.Memory,
    /** Bytes at most. */
    readonly ceiling: number,
    private end = FIRST,
    private readonly fixed = false,
  ) {}

  /** An allocation of another one's memory, to be handed out piece by piece; it does not grow. */
  static within(memory: WebAssembly.Memory, address: number, bytes: number): KernelMemory {
    return new KernelMemory(memory, address + bytes, address, true);
  }

  /** @param ceiling bytes at most @throws RangeError when the system grants none */
  static create(ceiling = Number.POSITIVE_INFINITY): KernelMemory {
    const ceilings = [Math.floor(ceiling / PAGE), ...CEILINGS].filter((pages) => pages * PAGE <= ceiling);
    let refused: unknown;
    for (const maximum of ceilings) {
      try {
        const memory = new WebAssembly.Memory({ initial: FIRST / PAGE, maximum, shared: true });
        return new KernelMemory(memory, maximum * PAGE);
      } catch (error) {
        refused = error;
      }
    }
    throw refused;
  }

  /** Bytes that the memory has grown to. */
  get size(): number {
    return this.memory.buffer.byteLength;
  }

  /** Address of so many bytes, holding whatever was there before. @throws OutOfMemory */
  allocate(bytes: number): number {
    const wanted = Math.ceil((bytes + PAST_END) / ALIGNED) * ALIGNED;
    const at = this.free.findIndex((allocation) => allocation.bytes >= wanted);
    const address = at < 0 ? this.extend(wanted) : this.cut(at, wanted);
    this.taken.set(address, wanted);
    this.used += wanted;
    return address;
  }

  /** Gives an allocation back. Addresses that are not handed out are left alone. */
  release(address: number): void {
    const bytes = this.taken.get(address);
    if (bytes === undefined) return;
    this.taken.delete(address);
    this.used -= bytes;
    this.putBack(address, bytes);
  }

  /** Keeps some parts of an allocation as allocations of their own and gives the rest of it back. */
  keepParts(address: number, parts: readonly Allocation[]): void {
    const bytes = this.sizeOf(address);
    this.taken.delete(address);
    let at = address;
    for (const part of [...parts].sort((a, b) => a.address - b.address)) {
      if (part.address > at) this.putBack(at, part.address - at);
      this.taken.set(part.address, part.bytes);
      at = part.address + part.bytes;
    }
    if (at < address + bytes) this.putBack(at, address + bytes - at);
    this.used += parts.reduce((sum, part) => sum + part.bytes, 0) - bytes;
  }

  private putBack(address: number, bytes: number): void {
    let at = 0;
    for (let high = this.free.length; at < high; ) {
      const middle = (at + high) >> 1;
      if (this.free[middle].address < address) at = middle + 1;
      else high = middle;
    }
    this.free.splice(at, 0, { address, bytes });
    this.join(at);
    if (at > 0) this.join(at - 1);
  }

  /** Bytes of an allocation; 0 when the address is not handed out. */
  sizeOf(address: number): number {
    return this.taken.get(address) ?? 0;
  }

  private cut(at: number, wanted: number): number {
    const allocation = this.free[at];
    const { address } = allocation;
    if (allocation.bytes === wanted) this.free.splice(at, 1);
    else {
      allocation.address += wanted;
      allocation.bytes -= wanted;
    }
    return address;
  }

  /** Grows the memory; a free allocation at its end becomes part of the new one. */
  private extend(wanted: number): number {
    const last = this.free[this.free.length - 1];
    const touches = last !== undefined && last.address + last.bytes === this.end;
    const address = touches ? last.address : this.end;
    const end = address + wanted;
    const missing = Math.ceil((end - (this.fixed ? this.ceiling : this.size)) / PAGE);
    if (missing > 0) this.grow(missing, wanted);
    if (touches) this.free.pop();
    this.end = end;
    return address;
  }

  private grow(pages: number, wanted: number): void {
    if (this.fixed) throw new OutOfMemory(wanted, this.used, this.ceiling);
    const room = (this.ceiling - this.size) / PAGE;
    // A little ahead: each growth makes new views of everything.
    const ahead = Math.min(room, Math.max(pages, 16, Math.floor(this.size / PAGE / 8)));
    if (pages > room) throw new OutOfMemory(wanted, this.used, this.ceiling);
    try {
      this.memory.grow(ahead);
    } catch {
      throw new OutOfMemory(wanted, this.used, this.ceiling);
    }
  }

  private join(at: number): void {
    const [here, next] = [this.free[at], this.free[at + 1]];
    if (!next || here.address + here.bytes !== next.address) return;
    here.bytes += next.bytes;
    this.free.splice(at + 1, 1);
  }
}
