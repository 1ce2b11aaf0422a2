/** Large tables that stay in the kernels' memory for as long as the array that they are copies of is used. */
import { engine } from "./kernels";

type Table = Float32Array | Uint8Array | Uint16Array;

const addresses = new WeakMap<Table, number>();
const forgotten = new FinalizationRegistry<number>((address) => engine().memory.release(address));

/** Address of a copy of the table, made at the first call. The table must not be written afterwards. */
export function resident(table: Table): number {
  let address = addresses.get(table);
  if (address === undefined) {
    const { memory } = engine();
    address = memory.allocate(table.byteLength);
    const bytes = new Uint8Array(table.buffer, table.byteOffset, table.byteLength);
    new Uint8Array(memory.memory.buffer, address, table.byteLength).set(bytes);
    addresses.set(table, address);
    forgotten.register(table, address);
  }
  return address;
}
