/** Large tables that stay in an engine's memory for as long as the array that they are copies of is used. */
import { engine } from "./kernels";
import type { KernelMemory } from "./memory";

type Table = Float32Array | Uint8Array | Uint16Array;

/** By memory: a helper has one for each task. */
const addresses = new WeakMap<KernelMemory, WeakMap<Table, number>>();
const forgotten = new FinalizationRegistry<{ memory: KernelMemory; address: number }>(({ memory, address }) =>
  memory.release(address),
);

/** Address of a copy of the table, made at the first call. The table must not be written afterwards. */
export function resident(table: Table): number {
  const { memory } = engine();
  let known = addresses.get(memory);
  if (!known) addresses.set(memory, (known = new WeakMap()));
  let address = known.get(table);
  if (address === undefined) {
    address = memory.allocate(table.byteLength);
    const bytes = new Uint8Array(table.buffer, table.byteOffset, table.byteLength);
    new Uint8Array(memory.memory.buffer, address, table.byteLength).set(bytes);
    known.set(table, address);
    forgotten.register(table, { memory, address });
  }
  return address;
}
