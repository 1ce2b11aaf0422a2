/** Small ready graphs for a need, put behind what is chosen or onto the Stage. */
import { applyEdit, type Edit } from "@/core/document/edits";
import { joinAddress, parseAddress } from "@/core/document/links";
import type { Dial, Link, PieceDocument } from "@/core/document/schema";
import { KIND_WORDS } from "@/core/evaluate/convert";
import type { Boxes, Corner } from "../cards/card-places";
import { cardSize } from "../cards/card-size";
import { bringIn } from "../clipboard-edits";
import { portKind, typeOf } from "../graph-edits";
import { besideShown, ledToStage, withLinks, workedOn } from "../links/auto-link";
import { linkedWithRoom } from "../links/linked-with-room";

export interface Recipe {
  readonly id: string;
  readonly document: PieceDocument;
}

export type RecipePut =
  | {
      readonly ok: true;
      readonly ids: readonly string[];
      /** Its nodes with the links between them, and its dials. */
      readonly add: Edit;
      /** What links them with the rest, with the moves of cards that make room. */
      readonly link: Edit | null;
    }
  | { readonly ok: false; readonly what: string };

/**
 * A recipe that works on something takes what is chosen, else what the Stage shows, in place of its own base.
 * @param dials whether the piece's dials are at hand: they are not in a capsule
 */
export function putRecipe(
  document: PieceDocument,
  { document: recipe }: Recipe,
  chosen: string | null,
  boxes: Boxes,
  pointer: readonly [number, number],
  dials: boolean,
): RecipePut {
  const base = new Set(recipe.recipe?.base ?? []);
  const source = base.size > 0 ? workedOn(document, chosen) : null;
  const nodes = recipe.graph.nodes.filter(({ id, type }) => type !== "stage" && !(source && base.has(id)));
  const kept = new Set(nodes.map(({ id }) => id));
  const ends = (link: Link) => [parseAddress(link.from).node, parseAddress(link.to).node];
  const within = recipe.graph.links.filter((link) => ends(link).every((id) => kept.has(id)));
  const entries = recipe.graph.links.filter(
    (link) => kept.has(ends(link)[1]) && base.has(ends(link)[0]) && source,
  );
  const exit = recipe.graph.links.find((link) => typeOf(recipe, ends(link)[1])?.type === "stage");
  if (!exit || !kept.has(ends(exit)[0]))
    return { ok: false, what: `“${recipe.name}” leads nowhere: it lacks a link to its Stage.` };

  const part: PieceDocument = { ...recipe, graph: { nodes, links: within } };
  const brought = bringIn(document, part, [0, 0]);
  if (!brought.ok) return brought;
  const ids = new Map(nodes.map(({ id }, i) => [id, brought.ids[i]]));
  const own = (address: string) => {
    const { node, port } = parseAddress(address);
    return joinAddress(ids.get(node) ?? node, port);
  };
  const alone = applyEdit(document, brought.edit).document;
  const now = linkedIn(
    alone,
    source,
    entries.map(({ to }) => own(to)),
    own(exit.from),
  );
  const end = parseAddress(own(exit.from)).node;
  const linked = source
    ? { document: now, after: parseAddress(source).node }
    : besideShown(document, now, end);
  const box = boundsOf(part);
  const { at, link } = linkedWithRoom(alone, linked, end, box, boxes, pointer);
  const places = part.graph.nodes.map(({ id, at: [x, y] }): [string, Corner] => [
    ids.get(id) ?? id,
    [x - box.x + at[0], y - box.y + at[1]],
  ]);
  const turned: Dial[] = dials
    ? recipe.dials
        .filter(({ input }) => kept.has(parseAddress(input).node))
        .map((dial) => ({ ...dial, input: own(dial.input) }))
    : [];
  const edits: Edit[] = [brought.edit, { kind: "move-nodes", to: Object.fromEntries(places) }];
  if (turned.length > 0)
    edits.push({
      kind: "add",
      dials: turned.map((item, i) => ({ item, index: document.dials.length + i })),
    });
  return { ok: true, ids: brought.ids, add: { kind: "several", edits }, link };
}

/** What a recipe lacks to go on from an output, in words; null when it can. */
export function lackedBy(document: PieceDocument, { document: recipe }: Recipe, from: string): string | null {
  const kind = portKind(document, from, "from");
  if ((recipe.recipe?.base ?? []).length === 0)
    return `“${recipe.name}” makes all of its own and takes nothing: add it without a link.`;
  return kind === "shape"
    ? null
    : `“${recipe.name}” lacks a shape to work on: “${from}” carries ${kind ? KIND_WORDS[kind] : "nothing"}.`;
}

/** What left the source goes through the recipe; without a source its end goes to the Stage. */
function linkedIn(
  document: PieceDocument,
  source: string | null,
  entries: readonly string[],
  exit: string,
): PieceDocument {
  if (source === null) return ledToStage(document, exit);
  const through = document.graph.links.map((link) => (link.from === source ? { ...link, from: exit } : link));
  const made = entries.map((to): Link => ({ from: source, to }));
  const linked = withLinks(document, [...through, ...made]);
  return through.some(({ from }) => from === exit) ? linked : ledToStage(linked, exit);
}

/** Around all cards, by their usual size. */
function boundsOf(part: PieceDocument) {
  const cards = part.graph.nodes.map((node) => ({ x: node.at[0], y: node.at[1], ...cardSize(part, node) }));
  const [x, y] = [Math.min(...cards.map((card) => card.x)), Math.min(...cards.map((card) => card.y))];
  return {
    x,
    y,
    width: Math.max(...cards.map((card) => card.x + card.width)) - x,
    height: Math.max(...cards.map((card) => card.y + card.height)) - y,
  };
}
