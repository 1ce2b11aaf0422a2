/**
 * States of other frames in a file, so that a piece that was worked out goes on from there after a reload. The file is a list of
 * records that only grows, begun with a mark of the program, as one that was changed may step otherwise; each has a mark of all that its state depends on, so that what no longer holds is never read. What is
 * cut short, damaged or of another version is left out, and the frames before it are worked out again.
 */
import type { Lane } from "../geometry/column";
import { floatsInMemory, integersInMemory } from "../kernels/arena";
import { mixSigned } from "../maths/random";
import { PROGRAM_MARK } from "../program-mark";
import { treeFromText, treeToText } from "../values/tree-text";
import type { State } from "./state";

/** A file that is read and written at once; the browser's or the system's. */
export interface Disk {
  size(): number;
  /** @throws Error when so many bytes are not there */
  read(at: number, bytes: number): Uint8Array;
  /** @throws Error when there is no room */
  write(at: number, bytes: Uint8Array): void;
  /** Forgets all from there on. */
  cut(size: number): void;
}

/** Bytes of one piece's file, at most. */
const MOST_BYTES = 1024 * 2 ** 20;

/** Length of the text, bytes of the lanes, checksum of both. */
const HEAD_BYTES = 12;

interface Place {
  readonly at: number;
  readonly textBytes: number;
  readonly laneBytes: number;
}

interface Written {
  readonly key: string;
  readonly frame: number;
  readonly state: unknown;
}

const checksum = (parts: readonly Uint8Array[]): number => {
  let sum = 1;
  for (const part of parts) {
    const whole = part.byteLength >> 2;
    const words = new Int32Array(whole);
    new Uint8Array(words.buffer).set(part.subarray(0, whole * 4));
    for (const word of words) sum = mixSigned(sum ^ word);
    for (const byte of part.subarray(whole * 4)) sum = mixSigned(sum ^ byte);
  }
  return sum;
};

/** 128 bits of a text. */
export function markOf(text: string): string {
  const hashes = [1, 2, 3, 4];
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    for (let h = 0; h < 4; h++) hashes[h] = (Math.imul(hashes[h], 0x01000193 + 2 * h) ^ code) | 0;
  }
  return hashes.map((hash, h) => (mixSigned(hash ^ h) >>> 0).toString(16).padStart(8, "0")).join("");
}

export class DiskCache {
  private readonly places = new Map<string, Place>();
  /** Lanes that states read from the file share, as they do in it. */
  private readonly lanes = new Map<number, WeakRef<Lane>>();
  /** Where lanes of this session have been written. */
  private written = new WeakMap<Lane, number>();
  private end = 0;
  /** Why nothing more is written, in words. */
  fault: string | null = null;

  constructor(
    private readonly disk: Disk,
    private readonly most = MOST_BYTES,
  ) {
    try {
      this.index();
    } catch {
      this.begin();
    }
  }

  has(key: string, frame: number): boolean {
    return this.places.has(`${key} ${frame}`);
  }

  /** Frames of which a state is kept, ascending. */
  framesOf(key: string): number[] {
    const frames: number[] = [];
    for (const name of this.places.keys())
      if (name.startsWith(`${key} `)) frames.push(Number(name.slice(key.length + 1)));
    return frames.sort((a, b) => a - b);
  }

  /**
   * Undefined when it is not there, or cannot be read: it is forgotten then. Its lanes are the current arena's.
   * @param isHeld whether a lane that was read before may still be read
   */
  read(key: string, frame: number, isHeld: (lane: Lane) => boolean): State | undefined {
    const name = `${key} ${frame}`;
    const place = this.places.get(name);
    if (!place) return undefined;
    try {
      const { state } = this.recordAt(place);
      return treeFromText(JSON.stringify(state), ({ lane, at, count }) =>
        this.laneAt(at, lane === "float", count, isHeld),
      ) as State;
    } catch {
      this.places.delete(name);
      return undefined;
    }
  }

  /** Writes a state, unless it is there. What goes wrong is told in `fault`, and nothing more is written. */
  write(key: string, frame: number, state: State): void {
    if (this.fault || this.has(key, frame)) return;
    try {
      this.append(key, frame, state);
    } catch (error) {
      const detail = error instanceof Error ? error.message : String(error);
      this.fault = `Frames that were worked out cannot be kept on disk (${detail}); they are kept in memory alone.`;
      try {
        this.disk.cut(this.end);
      } catch {}
    }
  }

  private append(key: string, frame: number, state: State): void {
    const bodies: Uint8Array[] = [];
    let laneBytes = 0;
    // Lanes stand in front of the text that names them, so their places are known when it is made.
    const begin = this.end + HEAD_BYTES;
    const fresh = new Map<Lane, number>();
    const text = treeToText({ key, frame, state } satisfies Written, (lane) => {
      const known = this.written.get(lane) ?? fresh.get(lane);
      if (known !== undefined) return known;
      const at = begin + laneBytes;
      // A copy: files take no memory that is shared between threads.
      const own = new Uint8Array(lane.byteLength);
      own.set(new Uint8Array(lane.buffer, lane.byteOffset, lane.byteLength));
      bodies.push(own);
      laneBytes += own.byteLength;
      fresh.set(lane, at);
      return at;
    });
    const words = new TextEncoder().encode(text);
    if (this.end + HEAD_BYTES + laneBytes + words.byteLength > this.most) {
      if (this.places.size === 0) return;
      this.begin();
      this.append(key, frame, state);
      return;
    }
    const head = new DataView(new ArrayBuffer(HEAD_BYTES));
    head.setUint32(0, words.byteLength, true);
    head.setUint32(4, laneBytes, true);
    head.setInt32(8, checksum([...bodies, words]), true);
    let at = this.end + HEAD_BYTES;
    for (const body of [...bodies, words]) {
      this.disk.write(at, body);
      at += body.byteLength;
    }
    // The head comes last: a record that was cut short is none.
    this.disk.write(this.end, new Uint8Array(head.buffer));
    this.places.set(`${key} ${frame}`, { at: this.end, textBytes: words.byteLength, laneBytes });
    for (const [lane, place] of fresh) this.written.set(lane, place);
    this.end = at;
  }

  /** Queries through the file; what cannot be read, and all behind it, is forgotten. */
  private index(): void {
    const head = new TextEncoder().encode(PROGRAM_MARK);
    const size = this.disk.size();
    const same =
      size >= head.byteLength &&
      new TextDecoder().decode(this.disk.read(0, head.byteLength)) === PROGRAM_MARK;
    if (!same) {
      this.begin();
      return;
    }
    this.end = head.byteLength;
    while (this.end + HEAD_BYTES <= size) {
      const numbers = this.headAt(this.end);
      const place = {
        at: this.end,
        textBytes: numbers.getUint32(0, true),
        laneBytes: numbers.getUint32(4, true),
      };
      const next = this.end + HEAD_BYTES + place.laneBytes + place.textBytes;
      if (place.textBytes === 0 || next > size) break;
      let record: Written;
      try {
        record = JSON.parse(this.textOf(place)) as Written;
      } catch {
        break;
      }
      this.places.set(`${record.key} ${record.frame}`, place);
      this.end = next;
    }
    this.disk.cut(this.end);
  }

  private headAt(at: number): DataView {
    const bytes = this.disk.read(at, HEAD_BYTES);
    return new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  }

  private textOf({ at, textBytes, laneBytes }: Place): string {
    return new TextDecoder().decode(this.disk.read(at + HEAD_BYTES + laneBytes, textBytes));
  }

  /** @throws Error when it is damaged */
  private recordAt(place: Place): Written {
    const sum = this.headAt(place.at).getInt32(8, true);
    const body = this.disk.read(place.at + HEAD_BYTES, place.laneBytes);
    const words = this.disk.read(place.at + HEAD_BYTES + place.laneBytes, place.textBytes);
    if (checksum([body, words]) !== sum) throw new Error("It is damaged.");
    return JSON.parse(new TextDecoder().decode(words)) as Written;
  }

  private laneAt(at: number, isFloat: boolean, count: number, isHeld: (lane: Lane) => boolean): Lane {
    const known = this.lanes.get(at)?.deref();
    if (known && isHeld(known)) return known;
    const lane = isFloat ? floatsInMemory(count) : integersInMemory(count);
    const bytes = this.disk.read(at, count * 4);
    new Uint8Array(lane.buffer, lane.byteOffset, lane.byteLength).set(bytes);
    this.lanes.set(at, new WeakRef(lane));
    this.written.set(lane, at);
    return lane;
  }

  /** An empty file of this version. */
  private begin(): void {
    this.places.clear();
    this.lanes.clear();
    this.written = new WeakMap();
    this.disk.cut(0);
    const head = new TextEncoder().encode(PROGRAM_MARK);
    this.disk.write(0, head);
    this.end = head.byteLength;
  }
}
