/** Capsules on their way between pieces: which ones nodes need, and under which names they come in. */
import type { Edit } from "../document/edits";
import { writeValue } from "../document/read";
import type { Capsule, GraphNode, PieceDocument } from "../document/schema";
import { capsuleNamed, capsulesWithin, capsuleType, parseCapsuleType } from "./definitions";
import { freshName } from "./names";
import type { CapsuleRole } from "./roles";

type Capsules = PieceDocument["capsules"];

/** The capsules that nodes are instances of, and those within. */
export function capsulesOf(capsules: Capsules, nodes: readonly GraphNode[]): Capsules {
  const names = new Set<string>();
  for (const { type } of nodes) {
    const parsed = parseCapsuleType(type);
    if (parsed?.role !== "capsule") continue;
    names.add(parsed.name);
    capsulesWithin(capsules, parsed.name, names);
  }
  return Object.fromEntries(
    [...names].flatMap((name) => {
      const capsule = capsuleNamed(capsules, name);
      return capsule ? [[name, capsule]] : [];
    }),
  );
}

/** Name by name, what each incoming capsule is called in the piece. */
export type CapsuleNames = ReadonlyMap<string, string>;

/**
 * Names for capsules that come in: the same capsule that is there already is taken, and another one of the same name gets
 * a name that is free.
 */
export function bringCapsules(there: Capsules, incoming: Capsules): { names: CapsuleNames; edits: Edit[] } {
  const names = new Map<string, string>();
  const taken = Object.keys(there);
  const isHere = new Set<string>();
  for (const [name, capsule] of Object.entries(incoming)) {
    const own = Object.hasOwn(there, name) && writeValue(there[name]) === writeValue(capsule);
    // What is in it has to be the same as well.
    const inner = [...capsulesWithin(incoming, name)];
    const same =
      own && inner.every((one) => there[one] && writeValue(there[one]) === writeValue(incoming[one]));
    if (same) isHere.add(name);
    const free = same ? name : freshName(taken, name);
    names.set(name, free);
    taken.push(free);
  }
  const edits = Object.entries(incoming)
    .filter(([name]) => !isHere.has(name))
    .map(
      ([name, capsule]): Edit => ({
        kind: "set-capsule",
        name: names.get(name) as string,
        capsule: renamedWithin(capsule, names),
      }),
    );
  return { names, edits };
}

const renamedWithin = (capsule: Capsule, names: CapsuleNames): Capsule => ({
  ...capsule,
  graph: { ...capsule.graph, nodes: capsule.graph.nodes.map((node) => renamedNode(node, names)) },
});

/** The node with the capsule that it belongs to under its new name. */
export function renamedNode(node: GraphNode, names: CapsuleNames): GraphNode {
  const parsed = parseCapsuleType(node.type);
  const name = parsed && names.get(parsed.name);
  return name ? { ...node, type: capsuleType(parsed?.role as CapsuleRole, name) } : node;
}

/**
 * Puts the capsule that a piece brings as its only instance in place of one that is there, on all its instances. What the
 * new one has inside comes in under names that are free. Null when the piece brings none.
 */
export function replaceCapsuleEdit(
  document: PieceDocument,
  name: string,
  incoming: PieceDocument,
  library: Capsule["library"],
): Edit | null {
  const parsed = parseCapsuleType(incoming.graph.nodes[0]?.type ?? "");
  const capsule = parsed?.role === "capsule" ? incoming.capsules[parsed.name] : undefined;
  if (!parsed || !capsule) return null;
  const { [parsed.name]: _own, ...inner } = incoming.capsules;
  const { [name]: _before, ...others } = document.capsules;
  const { names, edits } = bringCapsules(others, inner);
  const renamed = renamedWithin(capsule, new Map([...names, [parsed.name, name]]));
  return {
    kind: "several",
    edits: [...edits, { kind: "set-capsule", name, capsule: { ...renamed, library } }],
  };
}

/** A capsule of its own for one instance, the same as before but no longer shared. Null when it is no instance. */
export function makeOwnEdit(document: PieceDocument, instance: string): { name: string; edit: Edit } | null {
  const type = document.graph.nodes.find(({ id }) => id === instance)?.type ?? "";
  const parsed = parseCapsuleType(type);
  const capsule = parsed?.role === "capsule" ? document.capsules[parsed.name] : undefined;
  if (!parsed || !capsule) return null;
  const name = freshName(Object.keys(document.capsules), parsed.name);
  const { library: _shared, ...own } = renamedWithin(capsule, new Map([[parsed.name, name]]));
  const title = freshTitle(document.capsules, capsule.title);
  return {
    name,
    edit: {
      kind: "several",
      edits: [
        { kind: "set-capsule", name, capsule: { ...own, title } as Capsule },
        { kind: "set-type", node: instance, type: capsuleType("capsule", name) },
      ],
    },
  };
}

function freshTitle(capsules: Capsules, title: string): string {
  const taken = new Set(Object.values(capsules).map((capsule) => capsule.title));
  for (let i = 2; ; i++) if (!taken.has(`${title} ${i}`)) return `${title} ${i}`;
}
