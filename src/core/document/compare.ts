/** What differs between two states of a piece, for reading. */
import { joinAddress } from "./links";
import { writeValue } from "./read";
import type { Graph, PieceDocument } from "./schema";

export interface Difference {
  readonly kind: "added" | "removed" | "changed";
  /** The capsule whose graph it is in; null for the piece's own. */
  readonly capsule: string | null;
  /** A node, where it is about one. */
  readonly node: string | null;
  readonly what: string;
}

/** From the first state to the second: nodes, values, links, dials, capsules and settings. Places of cards do not count. */
export function differencesBetween(a: PieceDocument, b: PieceDocument): Difference[] {
  const names = new Set([...Object.keys(a.capsules), ...Object.keys(b.capsules)]);
  return [
    ...graphDifferences(null, a.graph, b.graph),
    ...[...names].flatMap((name): Difference[] => {
      const [before, after] = [a.capsules[name], b.capsules[name]];
      if (before && after) {
        const inside = graphDifferences(name, before.graph, after.graph);
        const ports =
          writeValue([before.inputs, before.outputs]) !== writeValue([after.inputs, after.outputs]);
        return ports
          ? [...inside, { kind: "changed", capsule: name, node: null, what: "its ports" }]
          : inside;
      }
      const { title } = before ?? after;
      return [
        { kind: before ? "removed" : "added", capsule: name, node: null, what: `the capsule ${title}` },
      ];
    }),
    ...recordDifferences(null, null, "the dial ", dialsOf(a), dialsOf(b)),
    ...recordDifferences(null, null, "the file ", a.assets, b.assets),
    ...recordDifferences(null, null, "the setting ", a.settings, b.settings),
  ];
}

const dialsOf = ({ dials }: PieceDocument): Record<string, unknown> =>
  Object.fromEntries(dials.map((dial) => [dial.label, dial]));

function graphDifferences(capsule: string | null, a: Graph, b: Graph): Difference[] {
  const [before, after] = [a, b].map(({ nodes }) => new Map(nodes.map((node) => [node.id, node])));
  const found: Difference[] = [];
  for (const [id, node] of after) {
    const old = before.get(id);
    if (!old || old.type !== node.type) {
      found.push({ kind: "added", capsule, node: id, what: node.type });
      continue;
    }
    found.push(...recordDifferences(capsule, id, "", old.set, node.set));
    found.push(...recordDifferences(capsule, id, "keys of ", old.keys ?? {}, node.keys ?? {}));
    if ((old.bypass ?? false) !== (node.bypass ?? false))
      found.push({
        kind: "changed",
        capsule,
        node: id,
        what: node.bypass ? "passed by" : "no longer passed by",
      });
  }
  for (const [id, node] of before)
    if (after.get(id)?.type !== node.type)
      found.push({ kind: "removed", capsule, node: id, what: node.type });
  const notes = ({ notes = [] }: Graph) => Object.fromEntries(notes.map(({ id, text }) => [id, text]));
  found.push(...recordDifferences(capsule, null, "the note ", notes(a), notes(b)));
  const [linked, links] = [a, b].map(
    (graph) => new Set(graph.links.map(({ from, to }) => `${from} to ${to}`)),
  );
  const nodeAt = (link: string) => link.slice(link.lastIndexOf(" ") + 1).split(".")[0];
  for (const link of links)
    if (!linked.has(link)) found.push({ kind: "added", capsule, node: nodeAt(link), what: `link ${link}` });
  for (const link of linked)
    if (!links.has(link)) found.push({ kind: "removed", capsule, node: nodeAt(link), what: `link ${link}` });
  return found;
}

function recordDifferences(
  capsule: string | null,
  node: string | null,
  before: string,
  a: Readonly<Record<string, unknown>>,
  b: Readonly<Record<string, unknown>>,
): Difference[] {
  return [...new Set([...Object.keys(a), ...Object.keys(b)])].sort().flatMap((key): Difference[] => {
    const [old, now] = [a[key], b[key]].map((value) => (value === undefined ? undefined : writeValue(value)));
    if (old === now) return [];
    const name = `${before}${node === null ? key : joinAddress(node, key)}`;
    const kind = old === undefined ? "added" : now === undefined ? "removed" : "changed";
    return [{ kind, capsule, node, what: `${name}${valuesText(old, now)}` }];
  });
}

/** Both values, where they are short enough to be read. */
const valuesText = (old = "the default", now = "the default"): string =>
  old.length + now.length < 60 ? `: ${old} → ${now}` : "";
