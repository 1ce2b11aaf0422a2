import { validateDocument } from "../core/document/read";
import type { Capsule, PieceDocument } from "../core/document/schema";
import { onlyCapsule } from "./capsules";
import { HttpFault } from "./http-fault";

/** @throws HttpFault when it is not a piece with one node, an instance of a capsule */
export function validateCapsule(raw: unknown): { piece: PieceDocument; capsule: Capsule } {
  const read = validateDocument(raw);
  if (!read.ok) throw new HttpFault(400, read.faults);
  const capsule = onlyCapsule(read.document);
  if (!capsule)
    throw new HttpFault(400, [
      { where: "graph.nodes", what: "A capsule comes as a piece with one node, which is an instance of it." },
    ]);
  return { piece: read.document, capsule };
}
