/** The library of capsules as the studio uses it: listed, brought into a piece, saved from it, brought up to date. */
import { replaceCapsuleEdit } from "@/core/capsules/carry";
import { capsuleType, parseCapsuleType } from "@/core/capsules/definitions";
import type { Capsule, PieceDocument } from "@/core/document/schema";
import type { CapsuleSummary } from "@/server/capsules";
import { jsonBody, requestJson } from "@/ui/request";
import { addLinked } from "../graph/adder/add-linked";
import type { Boxes } from "../graph/cards/card-places";
import { bringIn, pieceOfNodes } from "../graph/clipboard-edits";
import type { StudioStore } from "../state/store";

/** Reads what there is; the studio works without the library while the server is away. */
export async function loadLibrary(store: StudioStore): Promise<void> {
  const answer = await requestJson<{ capsules: CapsuleSummary[] }>("/api/capsules").catch(() => null);
  if (answer) store.getState().set({ library: answer.capsules });
}

/** The newest version as a piece with one instance, which knows where it comes from. @throws Error with a message */
export async function fetchCapsule(id: string): Promise<PieceDocument> {
  const { document, version } = await requestJson<{ document: PieceDocument; version: number }>(
    `/api/capsules/${id}`,
  );
  const name = parseCapsuleType(document.graph.nodes[0].type)?.name ?? "";
  const capsule: Capsule = { ...document.capsules[name], library: { id, version } };
  return { ...document, capsules: { ...document.capsules, [name]: capsule } };
}

/** Puts an instance into what is open, with the links that fit it; tells why when it cannot. Returns its id. */
export async function insertFromLibrary(
  store: StudioStore,
  id: string,
  middle: readonly [number, number],
  boxes: Boxes,
): Promise<string | null> {
  try {
    const piece = await fetchCapsule(id);
    const { opened, set } = store.getState();
    const brought = bringIn(opened.document, piece, middle);
    if (!brought.ok) {
      set({ notice: brought.what });
      return null;
    }
    const [instance] = brought.ids;
    return addLinked(store, brought.edit, instance, boxes, middle) ? instance : null;
  } catch (error) {
    store.getState().set({ notice: (error as Error).message });
    return null;
  }
}

/** A capsule with all that it needs, as a piece with one instance. */
export function capsuleAsPiece(document: PieceDocument, name: string): PieceDocument {
  const { library: _where, ...capsule } = document.capsules[name];
  const instance = { id: name, type: capsuleType("capsule", name), at: [0, 0] as [number, number], set: {} };
  const alone = {
    ...document,
    capsules: { ...document.capsules, [name]: capsule as Capsule },
    graph: { nodes: [instance], links: [] },
  };
  return { ...pieceOfNodes(alone, new Set([name])), name: capsule.title, about: capsule.about };
}

/** Saves a capsule as a new version of where it came from, else as a new one. @throws Error with a message */
export async function saveToLibrary(store: StudioStore, name: string): Promise<void> {
  const { document, editPiece } = store.getState();
  const capsule = document.capsules[name];
  const piece = capsuleAsPiece(document, name);
  const known = store.getState().library.find(({ id }) => id === capsule.library?.id);
  const base = capsule.library?.version;
  const saved = known
    ? {
        id: known.id,
        ...(await requestJson<{ version: number }>(
          `/api/capsules/${known.id}`,
          jsonBody("PUT", { base, document: piece }),
        )),
      }
    : await requestJson<{ id: string; version: number }>(
        "/api/capsules",
        jsonBody("POST", { document: piece }),
      );
  editPiece({ kind: "set-capsule", name, capsule: { ...capsule, library: saved } });
  await loadLibrary(store);
}

/** Takes the newest version up, on all instances. @throws Error with a message */
export async function updateFromLibrary(store: StudioStore, name: string): Promise<void> {
  const { library } = store.getState().document.capsules[name];
  if (!library) return;
  const piece = await fetchCapsule(library.id);
  const { document, editPiece } = store.getState();
  const version = Object.values(piece.capsules).find((c) => c.library)?.library;
  const edit = replaceCapsuleEdit(document, name, piece, version);
  if (edit) editPiece(edit);
}
