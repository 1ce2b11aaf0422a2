/** What a newcomer meets first: what cards show, what nodes begin with, examples, cards that make room. Common practice, no source. */
import fc from "fast-check";
import { applyEdit } from "../../src/core/document/edits";
import { checkDocument } from "../../src/core/evaluate/check-document";
import { Evaluator } from "../../src/core/evaluate/evaluator";
import { isFilled, type Shape } from "../../src/core/geometry/shape";
import { parseHex } from "../../src/core/maths/color";
import { PALETTES } from "../../src/core/maths/palettes";
import { SIMPLIFYING } from "../../src/core/meshes/decimate";
import { catalogue } from "../../src/core/nodes/catalogue";
import type { AnyInput } from "../../src/core/nodes/define";
import { PHYSICS } from "../../src/core/rigid/physics";
import { SOLIDS } from "../../src/core/solids/solid";
import { demoNames, readDemo, shippedRecipes, shippedStarters } from "../../src/server/demo";
import { pictureMark, picturesMade, shippedPicture } from "../../src/server/shipped-pictures";
import { exampleOf } from "../../src/studio/graph/adder/node-example";
import { lackedBy } from "../../src/studio/graph/adder/recipe-edits";
import { type Boxes, roomForGrown } from "../../src/studio/graph/cards/card-places";
import { cardRows } from "../../src/studio/graph/cards/card-rows";
import { cardSize, usualSize } from "../../src/studio/graph/cards/card-size";
import { cardsSpokenOf } from "../../src/studio/graph/cards/spoken-of";
import { addNodeEdit } from "../../src/studio/graph/graph-edits";
import { alike, createStudioStore } from "../../src/studio/state/store";
import { isSliding } from "../../src/ui/touch-pad";
import { BLANK } from "../cards";
import { graphOf } from "../run-node";

const NONE: ReadonlySet<string> = new Set();
const typeNames = [...catalogue.keys()];

describe("what a card shows", () => {
  const grid = catalogue.get("grid-sites");
  const shown = (...args: [object, ReadonlySet<string>, ReadonlySet<string>, boolean]) => {
    if (!grid) throw new Error("There is no grid.");
    const rows = cardRows(grid, args[0] as Parameters<typeof cardRows>[1], args[1], args[2], args[3]);
    return [rows.shown.map(([name]) => name), rows.more] as const;
  };

  it("is what is linked, keyed, a dial or set; the rest is counted, and all is there when it is opened", () => {
    const [all] = shown({ set: {} }, NONE, NONE, true);
    expect(all.length).toBeGreaterThan(5);
    expect(shown({ set: {} }, NONE, NONE, false)).toEqual([[], all.length]);
    expect(shown({ set: { up: 3 } }, NONE, NONE, false)[0]).toEqual(["up"]);
    expect(shown({ set: {} }, new Set(["across"]), NONE, false)[0]).toEqual(["across"]);
    expect(shown({ set: {} }, NONE, new Set(["seed"]), false)[0]).toEqual(["seed"]);
    expect(
      shown({ set: {}, keys: { deep: { keys: [{ frame: 0, value: 1 }] } } }, NONE, NONE, false)[0],
    ).toEqual(["deep"]);
    expect(shown({ set: { up: 3 } }, NONE, NONE, true)).toEqual([all, 0]);
  });

  it("grows with what is set, and shapes that are waited for are always there", () => {
    const document = graphOf({ move: { type: "move" }, more: { type: "move", set: { amount: 2 } } });
    const [move, more] = document.graph.nodes;
    expect(cardSize(document, more).height).toBeGreaterThan(cardSize(document, move).height);
    const waiting = (type: string) => {
      const definition = catalogue.get(type);
      return definition
        ? cardRows(definition, { set: {} }, NONE, NONE, false).shown.map(([name]) => name)
        : [];
    };
    expect(waiting("clone-onto-sites")).toEqual(["sites", "shapes"]);
    expect(waiting("seat-on-surface")).toEqual(["shape", "onto"]);
    expect(waiting("noise")).toEqual([]);
  });
});

describe("what a node begins with", () => {
  it.each(typeNames)("%s: values that it takes", (type) => {
    const { document } = applyEdit(BLANK, addNodeEdit(BLANK, type, [0, 0]).edit);
    expect(checkDocument(document)).toEqual([]);
  });

  it("leaves room between boxes on a grid, and gives tints colours of one palette, one after the other", () => {
    let document = BLANK;
    const set = (type: string) => {
      const { id, edit } = addNodeEdit(document, type, [0, 0]);
      document = applyEdit(document, edit).document;
      return document.graph.nodes.find((node) => node.id === id)?.set ?? {};
    };
    const [size, spacing] = [set("box").size as number[], set("grid-sites").spacing as number[]];
    size.forEach((wide, axis) => {
      expect(wide).toBeLessThan(spacing[axis]);
    });
    const tints = [set("tint").color, set("tint").color, set("tint").color];
    expect(new Set(tints).size).toBe(3);
    expect(PALETTES.some(({ colors }) => tints.every((color) => colors.includes(color as string)))).toBe(
      true,
    );
  });

  it("palettes go from dark to light (CIE luminance, ITU-R BT.709 weights)", () => {
    for (const { colors } of PALETTES) {
      const light = colors.map((color) => {
        const [r, g, b] = parseHex(color) ?? [0, 0, 0];
        return 0.2126 * r + 0.7152 * g + 0.0722 * b;
      });
      expect(light).toEqual([...light].sort((a, b) => a - b));
      expect(light[light.length - 1]).toBeGreaterThan(8 * light[0]);
    }
  });
});

describe("examples of nodes", () => {
  beforeAll(() => Promise.all([SOLIDS.load(), SIMPLIFYING.load(), PHYSICS.load()]));

  it.each(typeNames)(
    "%s: its example works out, files missing or not, and shows something where it can",
    (type) => {
      const node = catalogue.get(type);
      if (!node) throw new Error(type);
      const document = exampleOf(node);
      expect(document.graph.nodes.some((one) => one.type === type)).toBe(true);
      const needsFile = Object.values<AnyInput>(node.inputs).some(({ kind }) => kind === "asset");
      if (needsFile) return;
      const { shape, report } = new Evaluator().evaluate(document, 10);
      expect(Object.values(report.nodes).filter(({ state }) => state === "failed")).toEqual([]);
      expect(isFilled(shape as Shape)).toBe(true);
    },
  );
});

describe("shipped pictures", () => {
  const all = [...demoNames().map((name) => [name, readDemo(name)] as const), ...shippedStarters()];

  it.each(all)("%s has one of its document as it is (./run pictures makes them)", (name, document) => {
    const bytes = shippedPicture(name, document);
    // RIFF, size, WEBP (RFC 9649).
    expect(bytes?.toString("latin1", 0, 4)).toBe("RIFF");
    expect(bytes?.toString("latin1", 8, 12)).toBe("WEBP");
    expect(bytes?.length).toBeLessThan(200_000);
  });

  it("are given up when the document comes to something else, not when its cards move", () => {
    const [name, document] = all[0];
    const first = document.graph.nodes[0];
    const nodes = (change: object) => ({
      ...document,
      graph: { ...document.graph, nodes: [{ ...first, ...change }, ...document.graph.nodes.slice(1)] },
    });
    expect(pictureMark(nodes({ at: [7, 7] }))).toBe(picturesMade()[name]);
    expect(shippedPicture(name, nodes({ set: { ...first.set, scale: 3 } }))).toBeNull();
  });

  it("starters are eight, sound, and have dials", () => {
    expect(shippedStarters().size).toBe(8);
    for (const document of shippedStarters().values()) {
      expect(checkDocument(document)).toEqual([]);
      expect(document.dials.length).toBeGreaterThanOrEqual(3);
    }
  });
});

it("dials of the demo pieces have limits, and what they are set to lies within", () => {
  for (const name of demoNames()) {
    const { dials, graph } = readDemo(name);
    expect(dials.length).toBeGreaterThanOrEqual(3);
    for (const { input, label } of dials) {
      const [id, port] = input.split(".");
      const node = graph.nodes.find((one) => one.id === id);
      const limits = node?.limits?.[port];
      const value = node?.set[port];
      if (typeof value !== "number") continue;
      expect([name, label, limits !== undefined]).toEqual([name, label, true]);
      expect(value).toBeGreaterThanOrEqual(limits?.[0] ?? 0);
      expect(value).toBeLessThanOrEqual(limits?.[1] ?? 0);
    }
  }
});

describe("cards that have grown", () => {
  it("have those below them move on, none lands on another, and the rest stays", () => {
    const at = fc.integer({ min: 0, max: 3 });
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.tuple(at, at), { selector: ([x, y]) => x * 4 + y, minLength: 2 }),
        at,
        at,
        (cells, pick, by) => {
          const before: Boxes = new Map(
            cells.map(([x, y]) => [`${x} ${y}`, { x: x * 300, y: y * 140, width: 224, height: 110 }]),
          );
          const [id, box] = [...before][pick % before.size];
          const now = new Map(before).set(id, { ...box, height: 110 + by * 90 });
          const moved = roomForGrown(before, now, [id]);
          const after = [...now].map(([name, b]) => ({
            ...b,
            ...(moved[name] ? { y: moved[name][1] } : {}),
          }));
          for (const [i, a] of after.entries())
            for (const b of after.slice(i + 1))
              expect(a.x !== b.x || a.y + a.height <= b.y || b.y + b.height <= a.y).toBe(true);
          for (const name of Object.keys(moved)) {
            expect(before.get(name)?.x).toBe(box.x);
            expect(before.get(name)?.y).toBeGreaterThan(box.y);
          }
        },
      ),
    );
  });
});

it("the same input of all chosen nodes is changed together, but where it is linked or of another kind", () => {
  const document = graphOf(
    {
      a: { type: "sphere" },
      b: { type: "cylinder" },
      c: { type: "cone" },
      wave: { type: "wave" },
      grid: { type: "grid-sites" },
    },
    ["wave.value>c.radius"],
  );
  const store = createStudioStore("piece", document);
  expect(alike(store.getState(), "a", "radius")).toEqual(["a"]);
  store.getState().select(["a", "b", "c", "grid"]);
  expect(alike(store.getState(), "a", "radius")).toEqual(["a", "b"]);
  expect(alike(store.getState(), "wave", "height")).toEqual(["wave"]);
});

it("a recipe that does not fit where a link was dropped says what it lacks", () => {
  const document = graphOf({ box: { type: "box" }, noise: { type: "noise" } });
  const recipe = (id: string) => ({ id, document: shippedRecipes().get(id) ?? document });
  expect(lackedBy(document, recipe("sized-by-distance"), "box.shape")).toBeNull();
  expect(lackedBy(document, recipe("sized-by-distance"), "noise.value")).toMatch(
    /lacks a shape.*noise\.value.*number/,
  );
  expect(lackedBy(document, recipe("copies-in-a-ring"), "box.shape")).toMatch(/takes nothing/);
});

it("what is told of how a piece is made finds the cards that it speaks of", () => {
  const piece = readDemo("16-jar-ring");
  expect(
    cardsSpokenOf(piece, "Ring sites stands so many around, and Clone onto sites puts the jar on each."),
  ).toEqual(expect.arrayContaining(["ring", "jars"]));
  for (const name of demoNames()) {
    const { made = "", ...document } = readDemo(name);
    expect(made.split(/\n\s*\n/).some((part) => cardsSpokenOf(document, part).length > 0)).toBe(true);
  }
});

it("a wheel is told from fingers that slide: whole notches zoom, small or sideways steps pan, pinching zooms", () => {
  const wheel = { deltaMode: 0, deltaX: 0, deltaY: 0, ctrlKey: false, shiftKey: false };
  expect(isSliding({ ...wheel, deltaY: 120 })).toBe(false);
  expect(isSliding({ ...wheel, deltaY: -100 })).toBe(false);
  expect(isSliding({ ...wheel, deltaMode: 1, deltaY: 3 })).toBe(false);
  expect(isSliding({ ...wheel, deltaY: 4 })).toBe(true);
  expect(isSliding({ ...wheel, deltaX: -12, deltaY: 80 })).toBe(true);
  expect(isSliding({ ...wheel, deltaY: 4, ctrlKey: true })).toBe(false);
});

it("a card that is not drawn yet has the size it will have", () => {
  const definition = catalogue.get("ring-sites");
  const { id, edit } = addNodeEdit(BLANK, "ring-sites", [0, 0]);
  const { document } = applyEdit(BLANK, edit);
  const node = document.graph.nodes.find((one) => one.id === id);
  expect(node && cardSize(document, node)).toEqual(usualSize(definition, node?.set));
});
