import { MOST, type PieceDocument } from "./schema";

/** What a piece has too much of to be saved, in words; null when all of it fits. */
export function overfull({ graph, capsules, dials, snapshots }: PieceDocument): string | null {
  for (const [where, { nodes, links, notes }] of [
    ["The piece", graph] as const,
    ...Object.values(capsules).map(({ title, graph }) => [`The capsule “${title}”`, graph] as const),
  ])
    for (const [what, list, most] of [
      ["nodes", nodes, MOST.nodes],
      ["links", links, MOST.links],
      ["note areas", notes, MOST.notes],
    ] as const)
      if ((list?.length ?? 0) > most)
        return `${where} would have ${list?.length} ${what}; ${most} are the most. Nothing was changed.`;
  if (dials.length > MOST.dials)
    return `The piece would have ${dials.length} dials; ${MOST.dials} are the most. Nothing was changed.`;
  if ((snapshots?.length ?? 0) > MOST.snapshots)
    return `The piece would have ${snapshots?.length} snapshots; ${MOST.snapshots} are the most. Nothing was changed.`;
  return null;
}
