/**
 * What a new node is linked with by itself. It goes behind the node that is chosen, between that and where it went on; else it
 * feeds the chosen one, or what lies behind that and waits for its like. What works on a shape and has none takes what the
 * Stage shows. What can be seen reaches the Stage, beside what is there.
 */
import { type Edit, freshId } from "@/core/document/edits";
import { indexGraph, type JoinedLink, joinAddress, parseAddress, wouldCycle } from "@/core/document/links";
import type { Link, PieceDocument } from "@/core/document/schema";
import { canLink } from "@/core/evaluate/convert";
import type { AnyInput, AnyNode } from "@/core/nodes/define";
import { HANDED_ON, type PortKind } from "@/core/nodes/ports";
import { mainShapes } from "../cards/main-shapes";
import { stageOf, typeOf } from "../graph-edits";

type Links = readonly Link[];

/** What there is to work on: the shape of the chosen node, else what the Stage shows. */
export function workedOn(document: PieceDocument, chosen: string | null): string | null {
  const output = chosen === null ? undefined : shapeOutput(typeOf(document, chosen));
  const own = output !== undefined && chosen !== stageOf(document)?.id;
  return own ? joinAddress(chosen ?? "", output) : (shownLink(document)?.from ?? null);
}

/** What a shape that leaves a node is: places only, or something that can be seen. */
type Nature = "sites" | "seen";

/** A document with a new node in it, linked; and the one there was that it stands by. */
export interface Linked {
  readonly document: PieceDocument;
  /** The new node stands after this one. */
  readonly after?: string;
  /** The new node stands before this one. */
  readonly before?: string;
}

/**
 * @param document holds the new node already, without links
 * @param picked the node that is chosen; null when none or several are
 */
export function autoLinked(document: PieceDocument, id: string, picked: string | null): Linked {
  // Nothing goes on from the Stage.
  const chosen = picked === stageOf(document)?.id ? null : picked;
  // What is handed on goes to the chosen one rather than being made of what that gives.
  const isForChosen = chosen !== null && isHandedOn(document, id) && bestLink(document, id, chosen) !== null;
  const behind = chosen === null || isForChosen ? null : behindIt(document, id, chosen);
  const fed = behind ? null : feeding(document, id, chosen);
  let now = withLinks(document, behind ?? fed?.links ?? document.graph.links);
  if (!fed) now = withLinks(now, takingShown(now, id) ?? now.graph.links);
  now = onStage(now, id);
  if (behind) return { document: now, after: chosen ?? undefined };
  if (fed) return { document: now, before: fed.node };
  if (now === document) return { document };
  const [into] = indexGraph(now.graph).into.get(id)?.values() ?? [];
  return into ? { document: now, after: into[0].from.node } : besideShown(document, now, id);
}

/**
 * Where something stands that only leads to the Stage: beside what it is merged with by a new node, else before what it leads on
 * to. @param now the document with its links
 */
export function besideShown(document: PieceDocument, now: PieceDocument, id: string): Linked {
  const onto = indexGraph(now.graph).outOf.get(id)?.[0]?.to.node;
  const shown = shownLink(document);
  const isNew = onto !== undefined && !indexGraph(document.graph).nodes.has(onto);
  return isNew && shown
    ? { document: now, after: parseAddress(shown.from).node }
    : { document: now, before: onto };
}

/** The edit that leads from one to the other, of which the second has more nodes and other links. */
export function linkingEdit(before: PieceDocument, after: PieceDocument): Edit | null {
  const gone = before.graph.links.filter((link) => !after.graph.links.includes(link));
  const made = after.graph.links.filter((link) => !before.graph.links.includes(link));
  const nodes = after.graph.nodes.slice(before.graph.nodes.length);
  if (made.length === 0) return null;
  const left = before.graph.links.length - gone.length;
  return {
    kind: "several",
    edits: [
      ...(gone.length > 0 ? [{ kind: "remove", links: gone } as const] : []),
      {
        kind: "add",
        nodes: nodes.map((item, i) => ({ item, index: before.graph.nodes.length + i })),
        links: made.map((item, i) => ({ item, index: left + i })),
      },
    ],
  };
}

export const withLinks = (document: PieceDocument, links: Links): PieceDocument =>
  links === document.graph.links
    ? document
    : { ...document, graph: { ...document.graph, links: [...links] } };

function shownLink(document: PieceDocument): Link | undefined {
  const stage = stageOf(document);
  return stage && linkInto(document, stage.id, "shape")?.link;
}

const shapeOutput = (definition: AnyNode | undefined): string | undefined =>
  Object.keys(definition?.outputs ?? {}).find((name) => definition?.outputs[name].kind === "shape");

const linkInto = (document: PieceDocument, node: string, input: string): JoinedLink | undefined =>
  indexGraph(document.graph).into.get(node)?.get(input)?.[0];

/** Families whose nodes give out what came in, changed. */
const PASSING = new Set(["layout", "adjust", "simulate", "form", "dress"]);

/** Sites stay bare however they are moved, until something is put on them. */
function natureOf(document: PieceDocument, node: string): Nature {
  const seen = new Set<string>();
  for (let at = node; !seen.has(at); ) {
    seen.add(at);
    const definition = typeOf(document, at);
    if (!definition) return "seen";
    if (shapeOutput(definition) === "sites") return "sites";
    const [input] = mainShapes(definition);
    const into = PASSING.has(definition.family) && input ? linkInto(document, at, input) : undefined;
    if (!into) return "seen";
    at = into.from.node;
  }
  return "seen";
}

/** An input that is named for sites takes bare ones, one for shapes what can be seen; others take both. */
const suits = (input: string, nature: Nature): boolean =>
  input === "sites" ? nature === "sites" : input === "shapes" ? nature === "seen" : true;

/** Not linked, not keyed, shown with the values that the node has, and not reading something of its own accord. */
function freeInputs(document: PieceDocument, node: string): [string, AnyInput][] {
  const found = indexGraph(document.graph).nodes.get(node);
  const inputs: Readonly<Record<string, AnyInput>> = typeOf(document, node)?.inputs ?? {};
  return Object.entries(inputs).filter(([name, { implicit, shownWhen }]) => {
    const shown =
      !shownWhen || shownWhen.is.includes(found?.set[shownWhen.input] ?? inputs[shownWhen.input].default);
    const isOpen =
      !found?.keys?.[name] && (HANDED_ON.has(inputs[name].kind) || !linkInto(document, node, name));
    return shown && implicit === undefined && isOpen;
  });
}

/** A vector can be read as a number, its length; whoever means that links it by hand. */
const keepsMeaning = (from: PortKind, to: PortKind): boolean =>
  canLink(from, to) && !(from === "vector" && to === "number");

/** The link that fits best from one node to a free input of another: shapes by what they are, values by their kind. */
function bestLink(document: PieceDocument, from: string, into: string, shapesOnly = false): Link | null {
  const [source, target] = [typeOf(document, from), typeOf(document, into)];
  if (!source || !target || wouldCycle(indexGraph(document.graph), from, into)) return null;
  const free = freeInputs(document, into);
  const main = mainShapes(target);
  const nature = natureOf(document, from);
  for (const [port, { kind }] of Object.entries<AnyNode["outputs"][string]>(source.outputs)) {
    const fits = free.filter(([name, input]) =>
      kind === "shape"
        ? main.includes(name) &&
          suits(name, nature) &&
          (input.kind === kind || !linkInto(document, into, name))
        : HANDED_ON.has(kind)
          ? input.kind === kind
          : !shapesOnly && input.perElement && keepsMeaning(kind, input.kind),
    );
    const [name] = fits.find(([, input]) => input.kind === kind) ?? fits[0] ?? [];
    if (name) return { from: joinAddress(from, port), to: joinAddress(into, name) };
  }
  return null;
}

/** The links with what left by `onward` led through an output of the node. */
const ledThrough = (links: Links, onward: Link, node: string, output: string): Links =>
  links.map((link) => (link === onward ? { from: joinAddress(node, output), to: onward.to } : link));

function behindIt(document: PieceDocument, id: string, chosen: string): Links | null {
  const link = bestLink(document, chosen, id);
  if (!link) return null;
  const { links } = document.graph;
  const [onward, ...others] = links.filter(({ from }) => from === link.from);
  const { node, port } = onward && others.length === 0 ? parseAddress(onward.to) : { node: "", port: "" };
  const kind: AnyInput["kind"] | undefined = typeOf(document, node)?.inputs[port]?.kind;
  const outputs: AnyNode["outputs"] = typeOf(document, id)?.outputs ?? {};
  const output = Object.keys(outputs).find((name) => outputs[name].kind === kind);
  return [...(output ? ledThrough(links, onward, id, output) : links), link];
}

/** Whether it gives births or forces. */
const isHandedOn = (document: PieceDocument, id: string): boolean =>
  Object.values<AnyNode["outputs"][string]>(typeOf(document, id)?.outputs ?? {}).some(({ kind }) =>
    HANDED_ON.has(kind),
  );

function feeding(
  document: PieceDocument,
  id: string,
  chosen: string | null,
): { readonly links: Links; readonly node: string } | null {
  const shown = shownLink(document);
  const first = chosen ?? (shown && parseAddress(shown.from).node);
  const stage = stageOf(document)?.id;
  // What is only handed on is wanted by few, wherever they stand: the last of them, the Stage among them.
  const isForAny = isHandedOn(document, id);
  const takers = isForAny ? document.graph.nodes.map((node) => node.id).reverse() : [];
  const near = first ? [first, ...downstream(document, first)] : [];
  for (const node of [...near, ...takers].filter((n) => n !== id && (isForAny || n !== stage))) {
    const link = bestLink(document, id, node, node !== chosen);
    if (link) return { links: [...document.graph.links, link], node };
  }
  return null;
}

/** All that a node's results reach, the nearest first. */
function downstream(document: PieceDocument, node: string): string[] {
  const { outOf } = indexGraph(document.graph);
  const found = [node];
  for (let i = 0; i < found.length; i++)
    for (const { to } of outOf.get(found[i]) ?? []) if (!found.includes(to.node)) found.push(to.node);
  return found.slice(1);
}

/** What the Stage shows goes through the node, when that works on shapes and lacks one. */
function takingShown(document: PieceDocument, id: string): Links | null {
  const shown = shownLink(document);
  const definition = typeOf(document, id);
  const output = shapeOutput(definition);
  if (!shown || !definition || output === undefined) return null;
  const source = parseAddress(shown.from).node;
  if (source === id || wouldCycle(indexGraph(document.graph), source, id)) return null;
  const main = mainShapes(definition);
  const missing = main.filter((name) => !linkInto(document, id, name));
  const nature = natureOf(document, source);
  const input = missing.find((name) =>
    name === "sites" || name === "shapes" ? suits(name, nature) : missing.length === main.length,
  );
  if (input === undefined) return null;
  const link = { from: shown.from, to: joinAddress(id, input) };
  return [...ledThrough(document.graph.links, shown, id, output), link];
}

/** A node whose shape leads nowhere and can be seen, or is the first at all, is led to the Stage. */
function onStage(document: PieceDocument, id: string): PieceDocument {
  const output = shapeOutput(typeOf(document, id));
  const stage = stageOf(document);
  if (output === undefined || !stage || stage.id === id) return document;
  const own = joinAddress(id, output);
  const goesOn = document.graph.links.some(({ from }) => from === own);
  if (goesOn || wouldCycle(indexGraph(document.graph), id, stage.id)) return document;
  const shown = shownLink(document);
  const isPart = indexGraph(document.graph).into.has(id);
  const bare = (node: string) => natureOf(document, node) === "sites";
  return shown && (isPart || bare(id) || bare(parseAddress(shown.from).node))
    ? document
    : ledToStage(document, own);
}

/** What leaves there is led to the Stage; beside what is there by a node that merges them, a new one if need be. */
export function ledToStage(document: PieceDocument, own: string): PieceDocument {
  const { links, nodes } = document.graph;
  const stage = stageOf(document);
  if (!stage) return document;
  const shown = shownLink(document);
  if (!shown) return withLinks(document, [...links, { from: own, to: joinAddress(stage.id, "shape") }]);
  const source = parseAddress(shown.from).node;
  if (indexGraph(document.graph).nodes.get(source)?.type === "merge")
    return withLinks(document, [...links, { from: own, to: joinAddress(source, "shapes") }]);
  const merge = freshId(document, "merge");
  const grown = {
    ...document,
    graph: { ...document.graph, nodes: [...nodes, { id: merge, type: "merge", at: stage.at, set: {} }] },
  };
  return withLinks(grown, [
    ...ledThrough(links, shown, merge, "shape"),
    { from: shown.from, to: joinAddress(merge, "shapes") },
    { from: own, to: joinAddress(merge, "shapes") },
  ]);
}
