/** Which capsule is open for editing, and through which instances one came to it. */
import { capsuleNamed, parseCapsuleType } from "@/core/capsules/definitions";
import { PATH_SEPARATOR } from "@/core/capsules/flatten";
import { openCapsule } from "@/core/document/edits";
import { indexGraph } from "@/core/document/links";
import type { PieceDocument } from "@/core/document/schema";

export interface Opened {
  /** Ids of the instances, outermost first. */
  readonly path: readonly string[];
  /** Titles of their capsules. */
  readonly titles: readonly string[];
  /** Before the ids of nodes in reports. */
  readonly prefix: string;
  /** Name of the innermost capsule; null when the piece itself is open. */
  readonly capsule: string | null;
  /** The piece with the graph that is open. */
  readonly document: PieceDocument;
}

/** As much of the path as there is. */
export function openedAt(piece: PieceDocument, path: readonly string[]): Opened {
  let opened: Opened = { path: [], titles: [], prefix: "", capsule: null, document: piece };
  for (const id of path) {
    const type = indexGraph(opened.document.graph).nodes.get(id)?.type ?? "";
    const parsed = parseCapsuleType(type);
    const capsule = parsed?.role === "capsule" ? capsuleNamed(piece.capsules, parsed.name) : undefined;
    if (!parsed || !capsule) break;
    opened = {
      path: [...opened.path, id],
      titles: [...opened.titles, capsule.title],
      prefix: opened.prefix + id + PATH_SEPARATOR,
      capsule: parsed.name,
      document: openCapsule(piece, parsed.name),
    };
  }
  return opened;
}
