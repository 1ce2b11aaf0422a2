/** Edits of chosen keys, over several inputs at once. */
import type { Edit } from "@/core/document/edits";
import { joinAddress } from "@/core/document/links";
import type { Key, KeyEase, PieceDocument, Track } from "@/core/document/schema";
import { movedKeys, withEase, withoutKeys } from "@/core/keys/track";
import { portWords } from "@/core/nodes/port-words";
import type { Setting } from "@/core/nodes/ports";

export interface TrackRow {
  readonly node: string;
  readonly input: string;
  readonly address: string;
  readonly title: string;
  readonly track: Track;
}

/** All keyed inputs of a graph, in the order of its nodes. */
export const trackRows = ({ graph }: PieceDocument): TrackRow[] =>
  graph.nodes.flatMap(({ id, keys = {} }) =>
    Object.entries(keys)
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([input, track]) => ({
        node: id,
        input,
        address: joinAddress(id, input),
        title: `${portWords(input)} of ${id}`,
        track,
      })),
  );

/** Chosen keys: their frames by the address of their input. */
export type ChosenKeys = ReadonlyMap<string, readonly number[]>;

const changed = (
  rows: readonly TrackRow[],
  chosen: ChosenKeys,
  change: (track: Track, frames: readonly number[]) => Track | undefined,
): Edit => ({
  kind: "several",
  edits: rows.flatMap(({ address, node, input, track }): Edit[] => {
    const frames = chosen.get(address);
    return frames?.length ? [{ kind: "set-track", node, input, track: change(track, frames) }] : [];
  }),
});

/** Takes keys away; an input that loses its last one keeps the value that it had. */
export function removeKeysEdit(rows: readonly TrackRow[], chosen: ChosenKeys): Edit {
  const removal = changed(rows, chosen, withoutKeys);
  const values = rows.flatMap(({ address, node, input, track }): Edit[] => {
    const frames = chosen.get(address) ?? [];
    return frames.length > 0 && !withoutKeys(track, frames)
      ? [{ kind: "set-input", node, input, value: track.keys[0].value }]
      : [];
  });
  return { kind: "several", edits: [...(removal.kind === "several" ? removal.edits : []), ...values] };
}

export const easeKeysEdit = (rows: readonly TrackRow[], chosen: ChosenKeys, ease: KeyEase): Edit =>
  changed(rows, chosen, (track, frames) => withEase(track, frames, ease));

/** Takes keys elsewhere in time; what is chosen afterwards comes with the edit. */
export function moveKeysEdit(
  rows: readonly TrackRow[],
  chosen: ChosenKeys,
  to: (frame: number) => number,
): { edit: Edit; chosen: ChosenKeys } {
  return {
    edit: changed(rows, chosen, (track, frames) => movedKeys(track, frames, to)),
    chosen: new Map([...chosen].map(([address, frames]) => [address, frames.map(to)])),
  };
}

/** First and last frame of what is chosen; null when nothing is. */
export function spanOf(chosen: ChosenKeys): readonly [number, number] | null {
  const frames = [...chosen.values()].flat();
  return frames.length > 0 ? [Math.min(...frames), Math.max(...frames)] : null;
}

/** Keys as text, by addresses, their frames counted from the first. */
export interface CopiedKeys {
  readonly glemmoKeys: Readonly<Record<string, readonly Key[]>>;
}

export function copyKeys(rows: readonly TrackRow[], chosen: ChosenKeys): string {
  const [first] = spanOf(chosen) ?? [0];
  const copied: CopiedKeys = {
    glemmoKeys: Object.fromEntries(
      rows.flatMap(({ address, track }) => {
        const frames = chosen.get(address) ?? [];
        const keys = track.keys.filter(({ frame }) => frames.includes(frame));
        return keys.length > 0
          ? [[address, keys.map((key) => ({ ...key, frame: key.frame - first }))] as const]
          : [];
      }),
    ),
  };
  return JSON.stringify(copied);
}

/** Puts copied keys at a frame: onto the inputs they came from, or all onto one row. Null when the text holds none. */
export function pasteKeysEdit(
  rows: readonly TrackRow[],
  text: string,
  frame: number,
  onto?: TrackRow,
): { edit: Edit; chosen: ChosenKeys } | null {
  let copied: CopiedKeys["glemmoKeys"];
  try {
    copied = (JSON.parse(text) as CopiedKeys).glemmoKeys;
  } catch {
    return null;
  }
  if (!copied || typeof copied !== "object") return null;
  const chosen = new Map<string, number[]>();
  const edits: Edit[] = [];
  const single = Object.keys(copied).length === 1 ? onto : undefined;
  for (const [address, keys] of Object.entries(copied)) {
    const row = single ?? rows.find((one) => one.address === address);
    if (!row || !Array.isArray(keys) || !keys.every(isKey)) continue;
    let { track } = row;
    for (const key of keys) track = putKey(track, { ...key, frame: key.frame + frame });
    edits.push({ kind: "set-track", node: row.node, input: row.input, track });
    chosen.set(
      row.address,
      keys.map((key) => key.frame + frame),
    );
  }
  return edits.length > 0 ? { edit: { kind: "several", edits }, chosen } : null;
}

const isKey = (key: unknown): key is Key =>
  typeof key === "object" && key !== null && Number.isFinite((key as Key).frame) && "value" in key;

const putKey = (track: Track, key: Key): Track => ({
  ...track,
  keys: [...track.keys.filter(({ frame }) => frame !== key.frame), key].sort((a, b) => a.frame - b.frame),
});

/** What a key says, in a few letters. */
export function keyWords(value: Setting): string {
  if (typeof value === "number") return String(Number(value.toPrecision(5)));
  if (Array.isArray(value)) return value.map((part) => Number(Number(part).toPrecision(3))).join(" ");
  return typeof value === "object" ? "" : String(value);
}
