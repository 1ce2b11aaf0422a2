/**
 * The rows on the pages of an SQLite file (https://sqlite.org/fileformat2.html), read without its table of contents: for files
 * of which SQLite itself can make nothing any more. Which table a row is of is not known; what was deleted may come up again.
 */

export type LooseValue = string | number | Uint8Array | null;

/** First byte of a page that holds rows of a table (§ 1.6). */
const TABLE_LEAF = 0x0d;
const PAGE_HEADER = 8;
/** Where the file's header says how large pages are, and what makes sense there; ours are this large. */
const PAGE_SIZE_AT = 16;
const USUAL_PAGE_SIZE = 4096;
/** The file's header, before the first page's own. */
const FILE_HEADER = 100;

/** Rows in the order of their pages; those that do not hang together are counted by `lost`. */
export function* looseRows(file: Uint8Array, lost: () => void): Generator<LooseValue[]> {
  const pages = new Pages(file);
  for (let page = 1; page <= pages.count; page++) {
    const start = page === 1 ? FILE_HEADER : 0;
    const bytes = pages.page(page);
    if (bytes[start] !== TABLE_LEAF) continue;
    const cells = bytes[start + 3] * 256 + bytes[start + 4];
    for (let cell = 0; cell < cells; cell++) {
      const at = start + PAGE_HEADER + cell * 2;
      if (at + 2 > bytes.length) break;
      let row: LooseValue[] | null = null;
      try {
        row = pages.row(bytes, bytes[at] * 256 + bytes[at + 1]);
      } catch {
        // A number pointed beyond the page or the file.
      }
      if (row) yield row;
      else lost();
    }
  }
}

class Pages {
  readonly size: number;
  readonly count: number;

  constructor(private readonly file: Uint8Array) {
    const told = file[PAGE_SIZE_AT] * 256 + file[PAGE_SIZE_AT + 1];
    const isSound = told >= 512 && (told & (told - 1)) === 0;
    this.size = isSound ? told : told === 1 ? 65_536 : USUAL_PAGE_SIZE;
    this.count = Math.floor(file.length / this.size);
  }

  page(number: number): Uint8Array {
    if (number < 1 || number > this.count) throw new RangeError("There is no such page.");
    return this.file.subarray((number - 1) * this.size, number * this.size);
  }

  /** The values of the row whose cell begins at a place of a page (§ 1.6, "B-tree cell format"; § 2.1). */
  row(page: Uint8Array, at: number): LooseValue[] {
    const reader = new Reader(page, at);
    const length = reader.varint();
    reader.varint();
    const record = new Reader(this.payload(page, reader.at, length), 0);
    const headerEnd = record.varint();
    if (headerEnd > length) throw new RangeError("The row's header is longer than the row.");
    const types: number[] = [];
    while (record.at < headerEnd) types.push(record.varint());
    return types.map((type) => record.value(type));
  }

  /** A row's bytes: what is on its page, and what spilled over to others (§ 1.6, "overflow pages"). */
  private payload(page: Uint8Array, at: number, length: number): Uint8Array {
    if (length > this.file.length) throw new RangeError("The row is longer than the file.");
    const most = this.size - 35;
    if (length <= most) return page.subarray(at, at + length);
    const least = Math.floor(((this.size - 12) * 32) / 255) - 23;
    const wanted = least + ((length - least) % (this.size - 4));
    const here = wanted <= most ? wanted : least;
    const whole = new Uint8Array(length);
    whole.set(page.subarray(at, at + here));
    let have = here;
    let next = uint32(page, at + here);
    while (have < length) {
      const spilled = this.page(next);
      const part = spilled.subarray(4, 4 + Math.min(this.size - 4, length - have));
      whole.set(part, have);
      have += part.length;
      next = uint32(spilled, 0);
    }
    return whole;
  }
}

const uint32 = (bytes: Uint8Array, at: number): number =>
  new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength).getUint32(at);

class Reader {
  constructor(
    private readonly bytes: Uint8Array,
    public at: number,
  ) {}

  /** Up to nine bytes, seven bits each; the ninth has eight (§ 1.6). Exact up to 2⁵³. */
  varint(): number {
    let value = 0;
    for (let i = 0; i < 9; i++) {
      if (this.at >= this.bytes.length) throw new RangeError("A number goes on beyond the end.");
      const byte = this.bytes[this.at++];
      if (i === 8) return value * 256 + byte;
      value = value * 128 + (byte & 127);
      if (byte < 128) return value;
    }
    return value;
  }

  /** A value by its serial type (§ 2.1). */
  value(type: number): LooseValue {
    const length = [0, 1, 2, 3, 4, 6, 8, 8, 0, 0][type] ?? Math.floor((type - 12 + (type & 1 ? -1 : 0)) / 2);
    if (this.at + length > this.bytes.length || length < 0)
      throw new RangeError("A value ends beyond its row.");
    const part = this.bytes.subarray(this.at, this.at + length);
    this.at += length;
    if (type === 0) return null;
    if (type === 8 || type === 9) return type - 8;
    if (type === 7) return new DataView(part.buffer, part.byteOffset, 8).getFloat64(0);
    if (type <= 6) {
      let value = part[0] >= 128 ? -1 : 0;
      for (const byte of part) value = value * 256 + byte;
      return value;
    }
    return type & 1 ? new TextDecoder().decode(part) : part.slice();
  }
}
