/** Small ready graphs for a need, put behind what is chosen or onto the Stage. */
import { applyEdit, type Edit } from "@/core/document/edits";
import { joinAddress, parseAddress } from "@/core/document/links";
import type { Dial, Link, PieceDocument } from "@/core/document/schema";
import { catalogue } from "@/core/nodes/catalogue";
import { ledToStage, linkingEdit, withLinks, workedOn } from "./auto-link";
import { type Boxes, roomFor, roomForJoint } from "./card-places";
import { CARD_WIDTH, usualHeight } from "./card-size";
import { bringIn } from "./clipboard-edits";
import { typeOf } from "./graph-edits";
import { tidyEdit } from "./tidy";

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

const JOINT = { width: CARD_WIDTH, height: usualHeight(catalogue.get("merge")) };

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

  const part = laidOut({ ...recipe, graph: { nodes, links: within } });
  const box = boundsOf(part);
  const onto = source ? document.graph.links.filter(({ from }) => from === source) : [];
  const stage = document.graph.nodes.find(({ type }) => type === "stage")?.id;
  const shown = workedOn(document, null);
  const room =
    source || !shown || !stage
      ? roomFor(box, boxes, pointer, {
          after: source ? parseAddress(source).node : undefined,
          before: source ? undefined : stage,
          onto: onto.map(({ to }) => parseAddress(to).node),
        })
      : roomForJoint(box, JOINT, boxes, pointer, { beside: parseAddress(shown).node, onto: stage });
  const brought = bringIn(document, part, [room.at[0] + box.width / 2, room.at[1] + box.height / 2]);
  if (!brought.ok) return brought;
  const ids = new Map(nodes.map(({ id }, i) => [id, brought.ids[i]]));
  const own = (address: string) => {
    const { node, port } = parseAddress(address);
    return joinAddress(ids.get(node) ?? node, port);
  };
  // Its cards stand by their corners, as the room was made for them.
  const [left, top] = [room.at[0] - box.x, room.at[1] - box.y];
  const places = Object.fromEntries(
    part.graph.nodes.map(({ id, at }) => [
      ids.get(id) ?? id,
      [Math.round(at[0] + left), Math.round(at[1] + top)] as const,
    ]),
  );
  const turned: Dial[] = dials
    ? recipe.dials
        .filter(({ input }) => kept.has(parseAddress(input).node))
        .map((dial) => ({ ...dial, input: own(dial.input) }))
    : [];
  const add: Edit = {
    kind: "several",
    edits: [
      brought.edit,
      { kind: "move-nodes", to: places },
      ...(turned.length > 0
        ? [
            {
              kind: "add",
              dials: turned.map((item, i) => ({ item, index: document.dials.length + i })),
            } as const,
          ]
        : []),
    ],
  };
  const alone = applyEdit(document, add).document;
  const linked = linkedIn(
    alone,
    source,
    entries.map(({ to }) => own(to)),
    own(exit.from),
  );
  const linking = linkingEdit(alone, linked);
  const moves: Record<string, readonly [number, number]> = { ...room.moved };
  for (const { id, at } of linked.graph.nodes.slice(alone.graph.nodes.length))
    moves[id] = "joint" in room ? (room.joint as [number, number]) : at;
  const edits: Edit[] = [
    ...(linking ? [linking] : []),
    ...(Object.keys(moves).length > 0 ? [{ kind: "move-nodes", to: moves } as const] : []),
  ];
  return {
    ok: true,
    ids: brought.ids,
    add,
    link: edits.length > 0 ? { kind: "several", edits } : null,
  };
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

/** In columns along its links. */
function laidOut(part: PieceDocument): PieceDocument {
  const sizes = new Map(
    part.graph.nodes.map(({ id }) => [id, [CARD_WIDTH, usualHeight(typeOf(part, id))] as const]),
  );
  const tidied = tidyEdit(part, new Set(), sizes);
  return tidied ? applyEdit(part, tidied).document : part;
}

/** Around all cards, by their usual size. */
function boundsOf(part: PieceDocument) {
  const corners = part.graph.nodes.map(({ id, at: [x, y] }) => [
    x,
    y,
    x + CARD_WIDTH,
    y + usualHeight(typeOf(part, id)),
  ]);
  const [x, y] = [0, 1].map((axis) => Math.min(...corners.map((corner) => corner[axis])));
  const [right, bottom] = [2, 3].map((axis) => Math.max(...corners.map((corner) => corner[axis])));
  return { x, y, width: right - x, height: bottom - y };
}
