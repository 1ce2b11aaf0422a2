/** Undo and redo over document edits. Edits of one drag share a group and undo together. */
import { applyEdit, type Edit } from "@/core/document/edits";
import type { PieceDocument } from "@/core/document/schema";

interface Entry {
  readonly forward: Edit;
  readonly inverse: Edit;
  readonly group: string | undefined;
}

export interface History {
  readonly past: readonly Entry[];
  readonly future: readonly Entry[];
}

export const EMPTY_HISTORY: History = { past: [], future: [] };

/** Entries kept; older ones are forgotten. */
const DEPTH = 500;

export interface Changed {
  readonly document: PieceDocument;
  readonly history: History;
}

/** Applies an edit and remembers it; `group` joins it with the one before of the same group. */
export function perform(document: PieceDocument, history: History, edit: Edit, group?: string): Changed {
  const { document: changed, inverse } = applyEdit(document, edit);
  const last = history.past[history.past.length - 1];
  const joined = group !== undefined && last?.group === group;
  const entry: Entry = joined
    ? {
        forward: { kind: "several", edits: [last.forward, edit] },
        // The value before the first edit of the group is all that undoing needs.
        inverse: sameTarget(last.forward, edit)
          ? last.inverse
          : { kind: "several", edits: [inverse, last.inverse] },
        group,
      }
    : { forward: edit, inverse, group };
  const forward = joined && sameTarget(last.forward, edit) ? edit : entry.forward;
  const kept = joined ? history.past.slice(0, -1) : history.past.slice(-DEPTH + 1);
  return { document: changed, history: { past: [...kept, { ...entry, forward }], future: [] } };
}

function sameTarget(a: Edit, b: Edit): boolean {
  if (a.kind === "within" && b.kind === "within")
    return a.capsule === b.capsule && sameTarget(a.edit, b.edit);
  if (a.kind === "several" && b.kind === "several")
    return a.edits.length === b.edits.length && a.edits.every((edit, i) => sameTarget(edit, b.edits[i]));
  if (a.kind === "set-capsule" && b.kind === "set-capsule") return a.name === b.name;
  if (a.kind === "set-track" && b.kind === "set-track") return a.node === b.node && a.input === b.input;
  return a.kind === "set-input" && b.kind === "set-input" && a.node === b.node && a.input === b.input;
}

/** Applies an edit as a part of the last step, which undoes both; as a step of its own when there is none. */
export function amend(document: PieceDocument, history: History, edit: Edit): Changed {
  const last = history.past.at(-1);
  if (!last) return perform(document, history, edit);
  const { document: changed, inverse } = applyEdit(document, edit);
  const joined: Entry = {
    ...last,
    forward: { kind: "several", edits: [last.forward, edit] },
    inverse: { kind: "several", edits: [inverse, last.inverse] },
  };
  return {
    document: changed,
    history: { past: [...history.past.slice(0, -1), joined], future: history.future },
  };
}

/** Closes the group, so that the next edit is a step of its own. */
export function closeGroup(history: History): History {
  const last = history.past[history.past.length - 1];
  if (!last?.group) return history;
  return { ...history, past: [...history.past.slice(0, -1), { ...last, group: undefined }] };
}

export function undo(document: PieceDocument, { past, future }: History): Changed | null {
  const last = past[past.length - 1];
  if (!last) return null;
  return {
    document: applyEdit(document, last.inverse).document,
    history: { past: past.slice(0, -1), future: [...future, last] },
  };
}

export function redo(document: PieceDocument, { past, future }: History): Changed | null {
  const next = future[future.length - 1];
  if (!next) return null;
  return {
    document: applyEdit(document, next.forward).document,
    history: { past: [...past, { ...next, group: undefined }], future: future.slice(0, -1) },
  };
}
