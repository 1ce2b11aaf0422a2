/** How graphs are laid out and links led: no card on another, no link through a card, note areas whole. */
import Elk from "elkjs/lib/elk.bundled.js";
import { applyEdit, type Edit } from "../../src/core/document/edits";
import { parseAddress } from "../../src/core/document/links";
import { writeDocument } from "../../src/core/document/read";
import type { Note, PieceDocument } from "../../src/core/document/schema";
import { demoNames, readDemo, shippedRecipes } from "../../src/server/demo";
import { portPlace } from "../../src/studio/graph/cards/card-size";
import { distanceAt, LEAST_TEXT, LEAST_ZOOM, textAt } from "../../src/studio/graph/distance";
import { tidyEdit } from "../../src/studio/graph/layout/tidy";
import { lineOf, strandsOf } from "../../src/studio/graph/links/link-line";
import { type Place, type Route, routeOf, softRoute } from "../../src/studio/graph/links/link-route";
import { nodesOn } from "../../src/studio/graph/note-edits";
import type { Box } from "../../src/studio/graph/opening-view";
import { openingView } from "../../src/studio/graph/opening-view";
import { boxesOf, overlaps } from "../cards";
import { graphOf } from "../run-node";

const elk = new Elk();
const tidied = async (document: PieceDocument, chosen: readonly string[] = []): Promise<Edit> => {
  const edit = await tidyEdit(elk, document, new Set(chosen));
  if (!edit) throw new Error("There is nothing to lay out.");
  return edit;
};

/** Where a link's ends are on the cards, as it is drawn. */
function ends(document: PieceDocument, link: { from: string; to: string }): [Place, Place] {
  const end = (address: string, side: "input" | "output"): Place => {
    const { node: id, port } = parseAddress(address);
    const node = document.graph.nodes.find((one) => one.id === id);
    const place = node && portPlace(document, node, port, side);
    if (!place) throw new Error(`${address} is linked but not shown.`);
    return [node.at[0] + place[0], node.at[1] + place[1]];
  };
  return [end(link.from, "output"), end(link.to, "input")];
}

/** Cards that a way touches, by places on it a unit apart. */
function touched(route: Route, boxes: readonly Box[]): Box[] {
  const way = route.length === 2 ? softRoute(route[0], route[1]) : route;
  return boxes.filter((box) =>
    way.slice(1).some((to, i) => {
      const from = way[i];
      const steps = Math.ceil(Math.hypot(to[0] - from[0], to[1] - from[1]));
      return Array.from({ length: steps + 1 }, (_, k) => k / Math.max(1, steps)).some((t) => {
        const [x, y] = [from[0] + (to[0] - from[0]) * t, from[1] + (to[1] - from[1]) * t];
        return x > box.x && x < box.x + box.width && y > box.y && y < box.y + box.height;
      });
    }),
  );
}

const PIECES = [...demoNames().map((name) => [name, readDemo(name)] as const), ...shippedRecipes()];

describe("the graphs that ship", () => {
  it.each(PIECES)("%s: no card lies on another and no link goes through one", (_name, piece) => {
    expect(overlaps(piece)).toEqual([]);
    const boxes = [...boxesOf(piece).values()];
    const through = piece.graph.links.filter((link) => {
      const [from, to] = ends(piece, link);
      return touched(routeOf(from, to, boxes, 2), boxes).length > 0;
    });
    expect(through).toEqual([]);
  });

  it.each(demoNames())(
    "%s: every card lies on one labelled note area, whole, and areas lie apart",
    (name) => {
      const piece = readDemo(name);
      const notes = piece.graph.notes ?? [];
      const boxes = boxesOf(piece);
      const on = notes.flatMap((note) => nodesOn(piece, note));
      expect([...on].sort()).toEqual(piece.graph.nodes.map(({ id }) => id).sort());
      for (const note of notes) {
        expect(note.text).toMatch(/\w+ \w+/);
        for (const id of nodesOn(piece, note)) expect(isWithin(boxes.get(id), note)).toBe(true);
      }
      for (const [i, a] of notes.entries())
        for (const b of notes.slice(i + 1))
          expect(
            a.at[0] + a.size[0] <= b.at[0] ||
              b.at[0] + b.size[0] <= a.at[0] ||
              a.at[1] + a.size[1] <= b.at[1] ||
              b.at[1] + b.size[1] <= a.at[1],
          ).toBe(true);
    },
  );

  it("twelve cards can be read as a whole in the graph's area at 1280 × 800", () => {
    const piece = readDemo("17-gourd-scan");
    expect(piece.graph.nodes.length).toBeGreaterThanOrEqual(12);
    const areas = (piece.graph.notes ?? []).map(({ at, size }) => ({
      x: at[0],
      y: at[1],
      right: at[0] + size[0],
      bottom: at[1] + size[1],
    }));
    const [x, y] = [Math.min(...areas.map((a) => a.x)), Math.min(...areas.map((a) => a.y))];
    const all = {
      x,
      y,
      width: Math.max(...areas.map((a) => a.right)) - x,
      height: Math.max(...areas.map((a) => a.bottom)) - y,
    };
    const { zoom } = openingView(all, all, { width: 540, height: 590 });
    expect(all.width * zoom).toBeLessThanOrEqual(540);
    expect(all.height * zoom).toBeLessThanOrEqual(590);
    // From very far only pictures are left of cards.
    expect(distanceAt(zoom)).not.toBe("specks");
  });
});

const isWithin = (box: Box | undefined, { at, size }: Note): boolean =>
  box !== undefined &&
  box.x >= at[0] &&
  box.y >= at[1] &&
  box.x + box.width <= at[0] + size[0] &&
  box.y + box.height <= at[1] + size[1];

describe("tidying", () => {
  /** The piece with all cards on a heap, but each on its note area. */
  const heaped = (piece: PieceDocument): PieceDocument => ({
    ...piece,
    graph: {
      ...piece.graph,
      nodes: piece.graph.nodes.map((node) => {
        const note = piece.graph.notes?.find((one) => nodesOn(piece, one).includes(node.id));
        return { ...node, at: note ? [note.at[0] + 9, note.at[1] + 9] : [0, 0] };
      }),
    },
  });

  it.each(demoNames())("%s from a heap: cards apart, areas whole, undone to the same bytes", async (name) => {
    const piece = heaped(readDemo(name));
    const edit = await tidied(piece);
    const { document, inverse } = applyEdit(piece, edit);
    expect(overlaps(document)).toEqual([]);
    const boxes = boxesOf(document);
    for (const note of document.graph.notes ?? []) {
      const own = nodesOn(document, note);
      expect(own).toEqual(nodesOn(piece, piece.graph.notes?.find(({ id }) => id === note.id) as Note));
      for (const id of own) expect(isWithin(boxes.get(id), note)).toBe(true);
      // Within an area links lead to the right.
      for (const { from, to } of document.graph.links) {
        const [a, b] = [parseAddress(from).node, parseAddress(to).node];
        if (own.includes(a) && own.includes(b))
          expect((boxes.get(a)?.x ?? 0) + (boxes.get(a)?.width ?? 0)).toBeLessThan(boxes.get(b)?.x ?? 0);
      }
    }
    expect(writeDocument(applyEdit(document, inverse).document)).toBe(writeDocument(piece));
  });

  const ring = graphOf(
    {
      ring: { type: "ring-sites" },
      box: { type: "box" },
      clones: { type: "clone-onto-sites" },
      stage: { type: "stage" },
    },
    ["ring.sites>clones.sites", "box.shape>clones.shapes", "clones.clones>stage.shape"],
  );

  it("moves the chosen ones alone and keeps their corner", async () => {
    const edit = (await tidied(ring, ["ring", "clones"])) as Extract<Edit, { kind: "move-nodes" }>;
    expect(Object.keys(edit.to)).toEqual(["ring", "clones"]);
    expect(Math.min(...Object.values(edit.to).map(([x]) => x))).toBe(0);
    // One alone has nothing to be put in order with.
    expect(await tidied(ring, ["ring"])).toEqual(await tidied(ring));
    expect(await tidyEdit(elk, graphOf({ box: { type: "box" } }), new Set())).toBeNull();
  });

  it("takes away the places through which links were led, as the cards have moved", async () => {
    const [first, ...rest] = ring.graph.links;
    const led = { ...ring, graph: { ...ring.graph, links: [{ ...first, via: [[5, 500]] }, ...rest] } };
    const { document } = applyEdit(led as PieceDocument, await tidied(led as PieceDocument));
    expect(document.graph.links.some(({ via }) => via)).toBe(false);
  });
});

describe("the way of a link", () => {
  const card = (x: number, y: number, width = 100, height = 100): Box => ({ x, y, width, height });

  it("is a soft curve where nothing is in between, and leaves to the right without a loop", () => {
    expect(routeOf([0, 0], [200, 50], [])).toEqual([
      [0, 0],
      [200, 50],
    ]);
    const xs = softRoute([0, 0], [200, 50]).map(([x]) => x);
    expect(xs.every((x, i) => i === 0 || x >= xs[i - 1])).toBe(true);
  });

  it("goes around what lies in between", () => {
    const wall = card(100, -200, 100, 400);
    const way = routeOf([0, 0], [300, 0], [wall]);
    expect(way.length).toBeGreaterThan(2);
    expect(touched(way, [wall])).toEqual([]);
  });

  it("is led back around both cards when it must run back", () => {
    const cards = [card(300, 0), card(0, 0)];
    const way = routeOf([409, 50], [-9, 50], cards);
    expect(touched(way, cards)).toEqual([]);
    expect(way[1][0]).toBeGreaterThan(409);
    expect(way[way.length - 2][0]).toBeLessThan(-9);
  });

  it("is the same line for links of one port that go the same way, and lies beside that of another port", () => {
    const wall = card(150, -300, 100, 600);
    const way = (to: Place, lane: number) => routeOf([0, 0], to, [wall], lane);
    expect(way([400, 40], 1).slice(0, 3)).toEqual(way([400, 90], 1).slice(0, 3));
    expect(way([400, 40], 1)[1]).not.toEqual(way([400, 40], 2)[1]);
  });

  it("is found though cards lie on each other, and then may cross them", () => {
    const heap = [card(-50, -50, 400, 400), card(0, 0, 300, 300)];
    const way = routeOf([100, 100], [120, 120], heap);
    expect(way[0]).toEqual([100, 100]);
    expect(way[way.length - 1]).toEqual([120, 120]);
  });

  it("is drawn from end to end, straight or in two strands", () => {
    const way = routeOf([0, 0], [300, 0], [card(100, -200, 100, 400)]);
    for (const path of [
      lineOf(way),
      ...strandsOf(way),
      lineOf([
        [0, 0],
        [300, 0],
      ]),
    ]) {
      expect(path).toMatch(/^M0(\.0)? 0(\.0)?/);
      expect(path).toMatch(/300(\.0)? -?0(\.0)?$/);
      expect(path).not.toContain("NaN");
    }
  });
});

it("no word on a card is smaller than 11 pixels, however far away", () => {
  for (let zoom = LEAST_ZOOM; zoom <= 2; zoom *= 1.01)
    expect(textAt(zoom) * zoom).toBeGreaterThanOrEqual(LEAST_TEXT - 1e-9);
});
