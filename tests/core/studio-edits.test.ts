/** Edits that the studio makes: what each does, and that all of them, in any order, are undone to the same bytes. */

import fc from "fast-check";
import { packEdit } from "../../src/core/capsules/pack";
import { exposeEdit } from "../../src/core/capsules/ports";
import { unpackEdit } from "../../src/core/capsules/unpack";
import { differencesBetween } from "../../src/core/document/compare";
import { applyEdit, type Edit } from "../../src/core/document/edits";
import { validateDocument, writeDocument } from "../../src/core/document/read";
import type { PieceDocument } from "../../src/core/document/schema";
import { checkDocument } from "../../src/core/evaluate/check-document";
import { blendSettings } from "../../src/core/keys/blend";
import { isInside } from "../../src/core/maths/polygon";
import { catalogue } from "../../src/core/nodes/catalogue";
import type { AnyInput } from "../../src/core/nodes/define";
import { demoNames, readDemo } from "../../src/server/demo";
import { applyValues, blendSnapshots, takeSnapshot } from "../../src/studio/dials/snapshots";
import {
  driveEdit,
  driversOf,
  followEdit,
  swapEdit,
  valueAsText,
  valueFromText,
  valuesOffered,
} from "../../src/studio/graph/cards/input-edits";
import { repairEdit } from "../../src/studio/graph/cards/repair-edit";
import { addBetweenEdit, converting, linkRefusal } from "../../src/studio/graph/graph-edits";
import { alignEdit } from "../../src/studio/graph/layout/align";
import {
  dropLeadEdit,
  leadEdit,
  moveLeadEdit,
  pullOutEdit,
  removeHealedEdit,
  swapLinksEdit,
} from "../../src/studio/graph/links/link-edits";
import { addNoteEdit, nodesOn } from "../../src/studio/graph/note-edits";
import { editWords } from "../../src/studio/state/edit-words";
import { amend, EMPTY_HISTORY, perform, undo } from "../../src/studio/state/history";
import { openedAt } from "../../src/studio/state/opened";
import { evaluate, graphOf } from "../run-node";

const done = (document: PieceDocument, edit: Edit | null | undefined): PieceDocument =>
  edit ? applyEdit(document, edit).document : document;

const chain = graphOf(
  {
    grid: { type: "grid-sites" },
    up: { type: "move" },
    turn: { type: "rotate" },
    big: { type: "scale", set: { size: 2 } },
    sum: { type: "arithmetic", set: { a: 1, b: 5 } },
    stage: { type: "stage" },
  },
  ["grid.sites>up.shape", "up.shape>turn.shape", "turn.shape>big.shape", "big.shape>stage.shape"],
);
const linksOf = ({ graph }: PieceDocument) => graph.links.map(({ from, to }) => `${from}>${to}`);

describe("links", () => {
  it("heal when nodes are pulled out or removed, over whole runs of nodes", () => {
    const out = done(chain, pullOutEdit(chain, new Set(["up", "turn"])));
    expect(linksOf(out).sort()).toEqual([
      "big.shape>stage.shape",
      "grid.sites>big.shape",
      "up.shape>turn.shape",
    ]);
    const without = done(chain, removeHealedEdit(chain, new Set(["up", "big"]), []));
    expect(linksOf(without).sort()).toEqual(["grid.sites>turn.shape", "turn.shape>stage.shape"]);
    expect(pullOutEdit(chain, new Set(["sum"]))).toBeNull();
    // Nothing came into the first of them: nothing is joined.
    expect(linksOf(done(chain, removeHealedEdit(chain, new Set(["grid"]), [])))).not.toContain(
      "grid.sites>turn.shape",
    );
  });

  it("are led through places, which move and go", () => {
    const [link] = chain.graph.links;
    let piece = done(chain, leadEdit(link, 0, [10.4, 20]));
    piece = done(piece, leadEdit(piece.graph.links[0], 1, [30, 40]));
    piece = done(piece, moveLeadEdit(piece.graph.links[0], 0, [1, 2]));
    expect(piece.graph.links[0].via).toEqual([
      [1, 2],
      [30, 40],
    ]);
    for (let i = 0; i < 2; i++) piece = done(piece, dropLeadEdit(piece.graph.links[0], 0));
    expect(writeDocument(piece)).toBe(writeDocument(chain));
  });

  it("that would close a ring are told apart from those of other kinds, for which a converter is put between", () => {
    expect(linkRefusal(chain, { from: "big.shape", to: "up.shape" })).toMatchObject({ kind: "ring" });
    const link = { from: "sum.value", to: "up.shape" };
    expect(linkRefusal(chain, link)).toEqual({ kind: "kinds" });
    const fitting = [...catalogue.values()].filter((node) => converting(chain, node, link));
    expect(fitting.map(({ type }) => type)).toContain("ring-sites");
    for (const { type } of fitting) {
      const added = addBetweenEdit(chain, type, [0, 0], link);
      expect(checkDocument(done(chain, added?.edit))).toEqual([]);
    }
  });
});

describe("values", () => {
  it("are driven by a node in one step, brought to the value that was there", () => {
    const driven = done(chain, driveEdit(chain, "big", "size", "random")?.edit);
    expect(checkDocument(driven)).toEqual([]);
    const { shape } = evaluate(driven);
    const sizes = [...(shape?.sites?.columns.scale.lanes[0] ?? [])];
    expect(Math.max(...sizes)).toBeLessThanOrEqual(2);
    expect(Math.max(...sizes)).toBeGreaterThan(1);
    expect(new Set(sizes).size).toBeGreaterThan(10);
    for (const [node, definition] of [
      ["up", "move"],
      ["turn", "rotate"],
      ["big", "scale"],
    ] as const)
      for (const [name, input] of Object.entries<AnyInput>(catalogue.get(definition)?.inputs ?? {}))
        for (const type of driversOf(input))
          expect(checkDocument(done(chain, driveEdit(chain, node, name, type)?.edit))).toEqual([]);
  });

  it("follow another input's, never one that would come round to themselves", () => {
    const offered = valuesOffered(chain, "up", "amount");
    expect(offered).toContain("sum.a");
    expect(offered.some((address) => /^(turn|big|up)\./.test(address))).toBe(false);
    const following = done(chain, followEdit(chain, "big", "size", "sum.b"));
    expect(checkDocument(following)).toEqual([]);
    expect(evaluate(following).shape?.sites?.columns.scale.lanes[0][0]).toBe(5);
  });

  it("of two inputs change places, links with them", () => {
    const swapped = done(chain, swapEdit(chain, "sum"));
    expect(swapped.graph.nodes.find(({ id }) => id === "sum")?.set).toEqual({ a: 5, b: 1 });
    const fed = done(chain, {
      kind: "add",
      nodes: [{ item: { id: "clock", type: "clock", at: [0, 0], set: {} }, index: 0 }],
      links: [{ item: { from: "clock.frame", to: "sum.a" }, index: 0 }],
    });
    expect(linksOf(done(fed, swapEdit(fed, "sum")))).toContain("clock.frame>sum.b");
    expect(swapEdit(chain, "grid")).toBeNull();
  });

  it("are copied as text and pasted where they fit, refused in words where they do not", () => {
    const inputs = catalogue.get("scale")?.inputs ?? {};
    expect(valueFromText(inputs.axes, valueAsText([1, 2, 3]))).toEqual({ ok: true, value: [1, 2, 3] });
    expect(valueFromText(inputs.axes, "2")).toEqual({ ok: true, value: [2, 2, 2] });
    expect(valueFromText(inputs.how, "set")).toEqual({ ok: true, value: "set" });
    expect(valueFromText(inputs.size, "sprout")).toMatchObject({
      ok: false,
      what: expect.stringMatching(/number.*sprout/),
    });
  });
});

describe("the graph", () => {
  it("is aligned in columns and rows without overlaps, in the order in which cards stood", () => {
    const sizes = new Map(chain.graph.nodes.map(({ id }, i) => [id, { width: 200, height: 100 + i }]));
    const all = new Set(chain.graph.nodes.map(({ id }) => id));
    const column = done(chain, alignEdit(chain, all, sizes, 0)).graph.nodes;
    expect(new Set(column.map(({ at }) => at[0])).size).toBe(1);
    const row = done(chain, alignEdit(chain, all, sizes, 1)).graph.nodes;
    for (let i = 1; i < row.length; i++) expect(row[i].at[0] - row[i - 1].at[0]).toBeGreaterThanOrEqual(200);
    expect(alignEdit(chain, new Set(["up"]), sizes, 0)).toBeNull();
  });

  it("has note areas behind what was chosen, which know what lies on them", () => {
    const box = { x: 0, y: 0, width: 30, height: 10 };
    const { id, edit } = addNoteEdit(chain, [box], [500, 500]);
    const noted = done(chain, edit);
    expect(nodesOn(noted, noted.graph.notes?.[0] as never)).toEqual(
      ["grid", "up", "turn", "big", "sum", "stage"].filter((_, i) => i * 10 <= 58),
    );
    expect(validateDocument(JSON.parse(writeDocument(noted))).ok).toBe(true);
    expect(addNoteEdit(noted, [], [5, 6]).id).not.toBe(id);
    expect(writeDocument(done(noted, { kind: "remove", notes: [id] }))).toBe(writeDocument(chain));
  });

  it("is chosen from by an outline: what lies in it, by the even-odd rule", () => {
    const ell = [0, 0, 4, 0, 4, 2, 2, 2, 2, 4, 0, 4];
    expect(isInside(ell, 1, 3)).toBe(true);
    expect(isInside(ell, 3, 1)).toBe(true);
    expect(isInside(ell, 3, 3)).toBe(false);
    expect(isInside(ell, 5, 1)).toBe(false);
  });

  it("is repaired by a node put after an output, before all that used it", () => {
    const repaired = done(chain, repairEdit(chain, "grid", { label: "", insert: "renumber", port: "sites" }));
    expect(linksOf(repaired)).toContain("grid.sites>renumber.shape");
    expect(linksOf(repaired)).toContain("renumber.shape>up.shape");
    expect(linksOf(repaired)).not.toContain("grid.sites>up.shape");
    expect(done(chain, repairEdit(chain, "up", { label: "", bypass: true })).graph.nodes[1].bypass).toBe(
      true,
    );
  });
});

describe("snapshots of dials", () => {
  const piece: PieceDocument = {
    ...chain,
    dials: [
      { label: "Size", input: "big.size" },
      { label: "How", input: "big.how" },
      { label: "Gone", input: "nobody.size" },
    ],
  };

  it("hold every dial that is there, and bring all of them back", () => {
    const first = takeSnapshot(piece, "one");
    expect(first.values).toEqual({ "big.size": 2, "big.how": "times" });
    const changed = done(piece, { kind: "set-input", node: "big", input: "size", value: 9 });
    expect(takeSnapshot(done(changed, applyValues(changed, first.values)), "one")).toEqual(first);
    const half = blendSnapshots(
      piece,
      first,
      { name: "two", values: { "big.size": 4, "big.how": "set" } },
      0.25,
    );
    expect(half).toEqual({ "big.size": 2.5, "big.how": "times" });
  });

  it("blend by kind: numbers in proportion, whole ones whole, colours in Oklab, choices half-way", () => {
    expect(blendSettings({ kind: "number", whole: true }, 1, 4, 0.4)).toBe(2);
    expect(blendSettings({ kind: "vector" }, [0, 2, 4], [1, 2, 0], 0.5)).toEqual([0.5, 2, 2]);
    expect(blendSettings({ kind: "choice" }, "x", "z", 0.49)).toBe("x");
    expect(blendSettings({ kind: "choice" }, "x", "z", 0.51)).toBe("z");
    // Half-way between white and black in Oklab (B. Ottosson, 2020) is lightness 0.5: linear 0.125, in sRGB 99 of 255.
    expect(blendSettings({ kind: "color" }, "#ffffff", "#000000", 0.5)).toMatch(/^#6[23]6[23]6[23]/);
    expect(blendSettings({ kind: "color" }, "#ff0000", "#00ff00", 0)).toBe("#ff0000");
  });
});

describe("what changed", () => {
  it("is listed node by node between two states", () => {
    let after = done(chain, { kind: "set-input", node: "big", input: "size", value: 3 });
    after = done(after, removeHealedEdit(after, new Set(["turn"]), []));
    after = done(after, { kind: "move-nodes", to: { up: [999, 999] } });
    expect(differencesBetween(chain, after).map(({ kind, node, what }) => [kind, node, what])).toEqual([
      ["changed", "big", "big.size: 2 → 3"],
      ["removed", "turn", "rotate"],
      ["added", "big", "link up.shape to big.shape"],
      ["removed", "turn", "link up.shape to turn.shape"],
      ["removed", "big", "link turn.shape to big.shape"],
    ]);
    expect(differencesBetween(chain, chain)).toEqual([]);
  });

  it("in a step is told in words", () => {
    const said = (edit: Edit | null | undefined) => (edit ? editWords(edit) : "");
    expect(said({ kind: "set-input", node: "big", input: "fromLow", value: 3 })).toBe(
      "Set from low of big to 3",
    );
    expect(said(removeHealedEdit(chain, new Set(["turn"]), []))).toBe("Removed turn");
    expect(said(driveEdit(chain, "big", "size", "noise")?.edit)).toMatch(/^Added noise/);
    const packed = packEdit(chain, new Set(["up", "turn"]), "Lift");
    expect(packed.ok && said(packed.edit)).toBe("Packed Lift");
    expect(
      said({ kind: "within", capsule: "lift", edit: { kind: "set-bypass", node: "up", bypass: true } }),
    ).toBe("In lift: Passed up by");
  });

  it("of itself after a step is undone with it", () => {
    const step = perform(chain, EMPTY_HISTORY, { kind: "set-input", node: "big", input: "size", value: 3 });
    const after = amend(step.document, step.history, {
      kind: "set-input",
      node: "sum",
      input: "a",
      value: 7,
    });
    expect(after.history.past).toHaveLength(1);
    const back = undo(after.document, after.history);
    expect(back && writeDocument(back.document)).toBe(writeDocument(chain));
  });
});

describe("all of them, in any order", () => {
  it("on any demo piece, inside and outside of capsules, are undone to the same bytes and leave a document that is sound", () => {
    const pieces = demoNames().map(readDemo);
    const steps = fc.array(fc.tuple(fc.nat(12), fc.nat(1000), fc.nat(1000)), { minLength: 1, maxLength: 14 });
    fc.assert(
      fc.property(fc.constantFrom(...pieces), steps, (piece, list) => {
        let document = piece;
        let way: readonly string[] = [];
        const inverses: Edit[] = [];
        for (const [kind, p, q] of list) {
          const opened = openedAt(document, way);
          const seen = opened.document;
          const { nodes, links } = seen.graph;
          const node = nodes[p % Math.max(1, nodes.length)]?.id ?? "";
          const chosen = new Set(nodes.filter((_, i) => ((q >> (i % 9)) & 1) === 1).map(({ id }) => id));
          const inputs = Object.keys(
            catalogue.get(nodes.find(({ id }) => id === node)?.type ?? "")?.inputs ?? {},
          );
          const input = inputs[q % Math.max(1, inputs.length)] ?? "";
          const packed =
            kind === 0 ? packEdit(seen, chosen, "Part") : kind === 1 ? unpackEdit(seen, node) : null;
          const made: Edit | null | undefined = [
            packed?.ok ? packed.edit : null,
            packed?.ok ? packed.edit : null,
            pullOutEdit(seen, chosen),
            swapEdit(seen, node),
            driveEdit(seen, node, input, "noise")?.edit,
            valuesOffered(seen, node, input)[0] &&
              followEdit(seen, node, input, valuesOffered(seen, node, input)[0]),
            alignEdit(seen, chosen, new Map(), q % 2 === 0 ? 0 : 1),
            addNoteEdit(seen, [], [p, q]).edit,
            links.length > 0 ? leadEdit(links[p % links.length], 0, [p, q]) : null,
            nodes.length > 3 ? removeHealedEdit(seen, new Set([node]), []) : null,
            null,
            null,
            node && input
              ? { kind: "set-track", node, input, track: { keys: [{ frame: p, value: q }] } }
              : null,
          ][kind] as Edit | null;
          const whole: Edit | null =
            kind === 10 && opened.capsule !== null
              ? exposeEdit(document, opened.capsule, `${node}.${input}`)
              : made && opened.capsule !== null
                ? { kind: "within", capsule: opened.capsule, edit: made }
                : made;
          // Now and then one goes into a capsule, or out.
          if (kind === 11)
            way =
              way.length > 0
                ? []
                : nodes
                    .filter(({ type }) => type.startsWith("capsule:"))
                    .map(({ id }) => id)
                    .slice(0, 1);
          if (!whole) continue;
          const edited = applyEdit(document, whole);
          document = edited.document;
          inverses.push(edited.inverse);
          const read = validateDocument(JSON.parse(writeDocument(document)));
          if (!read.ok) throw new Error(JSON.stringify(read.faults));
          expect(editWords(whole).length).toBeGreaterThan(3);
        }
        for (const inverse of inverses.reverse()) document = applyEdit(document, inverse).document;
        expect(writeDocument(document)).toBe(writeDocument(piece));
      }),
      { numRuns: 150 },
    );
  });
});

it("links of one input change places, and back", () => {
  const many = graphOf(
    { a: { type: "box" }, b: { type: "sphere" }, c: { type: "cone" }, all: { type: "merge" } },
    ["a.shape>all.shapes", "b.shape>all.shapes", "c.shape>all.shapes"],
  );
  const [first, , third] = many.graph.links;
  const edit = swapLinksEdit(many, first, third);
  const swapped = done(many, edit);
  expect(swapped.graph.links.map(({ from }) => from)).toEqual(["c.shape", "b.shape", "a.shape"]);
  expect(applyEdit(swapped, applyEdit(many, edit).inverse).document.graph.links).toEqual(many.graph.links);
});
