/** Capsules: packing changes nothing that is seen, every kind of input can be exposed, and all of it is undone to the same bytes. */
import fc from "fast-check";
import { bringCapsules, capsulesOf, makeOwnEdit } from "../../src/core/capsules/carry";
import { definitionOf } from "../../src/core/capsules/definitions";
import { flatten } from "../../src/core/capsules/flatten";
import { packEdit } from "../../src/core/capsules/pack";
import { exposeEdit, labelFault, removePortEdit } from "../../src/core/capsules/ports";
import { unpackEdit } from "../../src/core/capsules/unpack";
import { applyEdit, type Edit, openCapsule } from "../../src/core/document/edits";
import { validateDocument, writeDocument } from "../../src/core/document/read";
import type { PieceDocument } from "../../src/core/document/schema";
import { drawingOf } from "../../src/core/draw/drawing";
import { AssetShelf, openWith } from "../../src/core/evaluate/asset-shelf";
import { checkDocument } from "../../src/core/evaluate/check-document";
import { Evaluator } from "../../src/core/evaluate/evaluator";
import { plainNumbers, type Value } from "../../src/core/fields/expression";
import type { AnyNode } from "../../src/core/nodes/define";
import type { Setting } from "../../src/core/nodes/ports";
import { demoAssets, demoNames, readDemo } from "../../src/server/demo";
import { duplicateEdit } from "../../src/studio/graph/graph-edits";
import { removeHealedEdit } from "../../src/studio/graph/links/link-edits";
import { evaluate, graphOf, outputsOf } from "../run-node";

const bytes = demoAssets();
const shelf = new AssetShelf(openWith(async (hash) => bytes.get(hash)?.bytes ?? new Uint8Array()));

/** Everything that the stage would show, as numbers. */
function seen(document: PieceDocument, frame: number): number[][] {
  const { shape, report } = new Evaluator().evaluate(document, frame, { assets: shelf.lookup(document) });
  if (!shape)
    throw new Error(JSON.stringify(Object.entries(report.nodes).filter(([, n]) => n.problems.length)));
  const { batches, lines, dots } = drawingOf(shape);
  return [
    ...batches.map((b) => [...b.matrices, ...b.colors]),
    [...(lines?.positions ?? [])],
    [...(dots?.positions ?? [])],
  ];
}

const done = (document: PieceDocument, edit: Edit): PieceDocument => applyEdit(document, edit).document;
const undone = (document: PieceDocument, edit: Edit): string => {
  const { document: after, inverse } = applyEdit(document, edit);
  return writeDocument(applyEdit(after, inverse).document);
};

const petals = graphOf(
  {
    ring: { type: "ring-sites", set: { count: 13, radius: 3, outward: "x" } },
    petal: { type: "cone", set: { radius: 0.4 } },
    clones: { type: "clone-onto-sites" },
    stage: { type: "stage" },
  },
  ["ring.sites>clones.sites", "petal.shape>clones.shapes", "clones.clones>stage.shape"],
);

const packed = (document: PieceDocument, chosen: readonly string[], title = "Petal clock") => {
  const result = packEdit(document, new Set(chosen), title);
  if (!result.ok) throw new Error(result.what);
  return { ...result, document: done(document, result.edit) };
};

describe("packing", () => {
  const pieces = demoNames().map(readDemo);

  it("leaves what is seen as it was, bit for bit, for any part of any piece; unpacking too; undone to the same bytes", async () => {
    for (const piece of pieces) await shelf.prepare(piece);
    const small = pieces.filter(
      (piece) => evaluate(piece, 0, { assets: shelf.lookup(piece) }).report.tally.sites < 3000,
    );
    fc.assert(
      fc.property(
        fc.constantFrom(...small),
        fc.infiniteStream(fc.boolean()),
        fc.nat(60),
        (piece, coin, frame) => {
          const chosen = new Set(
            piece.graph.nodes.filter(({ type }) => type !== "stage" && coin.next().value).map(({ id }) => id),
          );
          const result = packEdit(piece, chosen, "A part");
          expect(result.ok).toBe(chosen.size > 0);
          if (!result.ok) return;
          expect(undone(piece, result.edit)).toBe(writeDocument(piece));
          const inside = done(piece, result.edit);
          expect(validateDocument(JSON.parse(writeDocument(inside))).ok).toBe(true);
          // Feeding its own source through what stays outside, a part can close a ring: that is refused where it is shown.
          if (checkDocument(inside).some(({ what }) => what.includes("in a ring"))) return;
          expect(checkDocument(inside)).toEqual([]);
          const was = seen(piece, frame);
          expect(seen(inside, frame)).toEqual(was);
          const out = unpackEdit(inside, result.node);
          if (!out.ok) throw new Error(out.what);
          expect(undone(inside, out.edit)).toBe(writeDocument(inside));
          expect(seen(done(inside, out.edit), frame)).toEqual(was);
        },
      ),
      { numRuns: 40 },
    );
  });

  it("takes links from outside and dials as ports, under their names, with limits and values", () => {
    const document = { ...petals, dials: [{ label: "How many", input: "ring.count" }] };
    const { document: inside, node, name } = packed(document, ["ring", "clones"]);
    expect(inside.graph.links).toEqual([
      { from: "petal.shape", to: `${node}.shapes` },
      { from: `${node}.clones`, to: "stage.shape" },
    ]);
    expect(inside.dials).toEqual([{ label: "How many", input: `${node}.count` }]);
    expect(inside.capsules[name].inputs.map(({ label, kind, many }) => [label, kind, many])).toEqual([
      ["shapes", "shape", true],
      ["How many", "number", undefined],
    ]);
    expect(inside.capsules[name].inputs[1]).toMatchObject({ default: 13, min: 0, whole: true });
    const fewer = done(inside, { kind: "set-input", node, input: "count", value: 5 });
    expect(evaluate(fewer).report.tally.sites).toBe(5);
    // A value out of its limits is refused at the capsule's own input, with a repair there.
    const wrong = evaluate(done(inside, { kind: "set-input", node, input: "count", value: -4 })).report.nodes[
      node
    ];
    expect(wrong.state).toBe("failed");
    expect(wrong.problems[0]).toMatchObject({ input: "count" });
  });

  it("refuses the Stage, nothing at all, and the border of a capsule, in words", () => {
    const said = (chosen: string[], document = petals) => {
      const result = packEdit(document, new Set(chosen), "x");
      return result.ok ? "" : result.what;
    };
    expect(said(["ring", "stage"])).toMatch(/Stage stays outside/);
    expect(said([])).toMatch(/Choose the nodes/);
    const { document, name } = packed(petals, ["ring", "clones"]);
    expect(said(["inputs"], openCapsule(document, name))).toMatch(/cannot be packed/);
  });
});

describe("inputs of a capsule", () => {
  it("can be of every kind, and reach the node inside as they are", () => {
    const document = graphOf(
      {
        remap: { type: "remap", set: { value: 0.25, toHigh: 8 } },
        colors: { type: "gradient" },
        curve: { type: "profile" },
        text: { type: "formula", set: { formula: "a * 2" } },
        turn: { type: "rotate" },
        ring: { type: "ring-sites" },
        paint: { type: "tint" },
        stage: { type: "stage" },
      },
      ["ring.sites>turn.shape", "turn.shape>paint.shape", "paint.shape>stage.shape"],
    );
    let {
      document: inside,
      name,
      node,
    } = packed(document, ["remap", "colors", "curve", "text", "turn", "ring", "paint"], "All kinds");
    const exposed: Record<string, Setting> = {
      "ring.around": "z",
      "ring.start": 30,
      "remap.clip": false,
      "remap.value": 2,
      "colors.colors": { space: "linear", stops: [{ at: 0, color: "#ff0000" }] },
      "curve.curve": {
        form: "straight",
        points: [
          { at: 0, value: 1 },
          { at: 1, value: 0 },
        ],
      },
      "text.formula": "a * 3",
      "turn.turn": [0, 90, 0],
      "turn.pivot": [1, 2, 3],
      "paint.color": "#00ff00",
    };
    for (const address of Object.keys(exposed)) {
      const edit = exposeEdit(inside, name, address);
      if (!edit) throw new Error(`"${address}" was not exposed.`);
      expect(undone(inside, edit)).toBe(writeDocument(inside));
      inside = done(inside, edit);
      // Nothing changes by exposing.
      expect(checkDocument(inside)).toEqual([]);
    }
    const { inputs } = inside.capsules[name];
    expect(new Set(inputs.map(({ kind }) => kind))).toEqual(
      new Set(["choice", "number", "toggle", "gradient", "profile", "text", "rotation", "vector", "color"]),
    );
    // Set on the instance, they do what they do when they are set on the nodes.
    const bare = Object.entries(exposed).reduce((piece, [address, value]) => {
      const [id, input] = address.split(".");
      return done(piece, { kind: "set-input", node: id, input, value });
    }, document);
    const set = Object.entries(exposed).reduce((piece, [address, value]) => {
      const link = inside.capsules[name].graph.links.find(({ to }) => to === address);
      return done(piece, { kind: "set-input", node, input: link?.from.split(".")[1] ?? "", value });
    }, inside);
    expect(seen(set, 0)).toEqual(seen(bare, 0));
    for (const [id, port] of [
      ["remap", "value"],
      ["colors", "color"],
      ["curve", "value"],
      ["text", "value"],
    ])
      expect(valuesAt(set, `${node}/${id}`, port)).toEqual(valuesAt(bare, id, port));
    expect(valuesAt(set, `${node}/remap`, "value")).toEqual([16]);
    expect(valuesAt(set, `${node}/text`, "value")).toEqual([3]);
  });

  const valuesAt = (document: PieceDocument, node: string, port: string) => {
    const output = outputsOf(document, node)[port];
    return plainNumbers((Array.isArray(output) ? output : [output]) as Value[]);
  };

  it("take a number for a choice, its words for another's, and fields through", () => {
    const { document, name, node } = packed(petals, ["ring", "clones"]);
    const exposed = done(document, exposeEdit(document, name, "ring.outward") as Edit);
    const choices = (definitionOf(exposed, `capsule:${name}`) as AnyNode).inputs.outward.choices ?? [];
    const driven = done(exposed, {
      kind: "add",
      nodes: [{ item: { id: "pick", type: "clock", at: [0, 0], set: {} }, index: 0 }],
      links: [{ item: { from: "pick.frame", to: `${node}.outward` }, index: 0 }],
    });
    for (const frame of [0, 1, 2]) {
      const same = done(exposed, { kind: "set-input", node, input: "outward", value: choices[frame] });
      expect(seen(driven, frame)).toEqual(seen(same, frame));
    }
  });

  it("go with all that names them, on every instance", () => {
    const { document, name, node } = packed(petals, ["ring", "clones"]);
    let piece = done(document, exposeEdit(document, name, "ring.radius") as Edit);
    piece = done(piece, { kind: "set-input", node, input: "radius", value: 9 });
    piece = { ...piece, dials: [{ label: "Reach", input: `${node}.radius` }] };
    const edit = removePortEdit(piece, name, "inputs", "radius");
    expect(undone(piece, edit)).toBe(writeDocument(piece));
    const without = done(piece, edit);
    expect(without.dials).toEqual([]);
    expect(checkDocument(without)).toEqual([]);
    expect(seen(without, 0)).toEqual(seen(petals, 0));
  });

  it("need names that do not clash", () => {
    const ports = [{ label: "Radius" }];
    expect(labelFault(ports, " radius ")).toMatch(/already a port called/);
    expect(labelFault(ports, "")).toMatch(/needs a name/);
    expect(labelFault(ports, "Reach")).toBeNull();
  });
});

describe("capsules in capsules", () => {
  it("a ring of rings is one capsule fed by itself; 12 rings of 5 are 60 clones, edited in one place", () => {
    const { document, name, node } = packed(petals, ["ring", "clones"]);
    const exposed = done(document, exposeEdit(document, name, "ring.count") as Edit);
    const outer: PieceDocument = done(exposed, {
      kind: "several",
      edits: [
        { kind: "set-input", node, input: "count", value: 5 },
        { kind: "remove", links: exposed.graph.links.filter(({ to }) => to === "stage.shape") },
        {
          kind: "add",
          nodes: [
            { item: { id: "outer", type: `capsule:${name}`, at: [0, 0], set: { count: 12 } }, index: 3 },
          ],
          links: [
            { item: { from: `${node}.clones`, to: "outer.shapes" }, index: 1 },
            { item: { from: "outer.clones", to: "stage.shape" }, index: 2 },
          ],
        },
      ],
    });
    const { shape } = evaluate(outer);
    expect(shape && drawingOf(shape).clones).toBe(60);
    const edited = done(outer, {
      kind: "within",
      capsule: name,
      edit: { kind: "set-input", node: "ring", input: "sweep", value: 90 },
    });
    const both = ["outer", node].map((id) => outputsOf(edited, `${id}/ring`).sites);
    for (const sites of both) expect(sites).toMatchObject({ sites: { columns: { position: {} } } });
    expect(flatten(edited).instances.size).toBe(2);
    // One of the two made its own no longer hears of the other.
    const own = makeOwnEdit(edited, "outer");
    if (!own) throw new Error("It is no instance.");
    expect(undone(edited, own.edit)).toBe(writeDocument(edited));
    const apart = done(done(edited, own.edit), {
      kind: "within",
      capsule: name,
      edit: { kind: "set-input", node: "ring", input: "radius", value: 0.5 },
    });
    expect(seen(apart, 0)).not.toEqual(seen(edited, 0));
    expect(apart.capsules[own.name].graph.nodes.find(({ id }) => id === "ring")?.set.radius).toBe(3);
  });

  it("a capsule that contains itself is said to, and the rest of the piece goes on", () => {
    const { document, name, node } = packed(petals, ["ring", "clones"]);
    const ring = done(document, {
      kind: "within",
      capsule: name,
      edit: {
        kind: "add",
        nodes: [{ item: { id: "again", type: `capsule:${name}`, at: [0, 0], set: {} }, index: 0 }],
        links: [{ item: { from: "again.clones", to: "clones.shapes" }, index: 0 }],
      },
    });
    expect(
      checkDocument(ring)
        .map(({ what }) => what)
        .join(),
    ).toMatch(/contains itself/);
    const { report } = evaluate(ring);
    expect(report.nodes[node].state).toBe("failed");
    expect(report.nodes[`${node}/again`].problems[0].what).toMatch(/contains itself/);
  });

  it("ten levels of ten are not opened endlessly", () => {
    let document = graphOf({ ring: { type: "ring-sites" }, stage: { type: "stage" } });
    let chosen = ["ring"];
    for (let level = 0; level < 10; level++) {
      const { document: inside, node, name } = packed(document, chosen, `level ${level}`);
      const more = Array.from({ length: 9 }, (_, i) => ({
        id: `more${level}-${i}`,
        type: `capsule:${name}`,
        at: [0, 0] as [number, number],
        set: {},
      }));
      document = done(inside, { kind: "add", nodes: more.map((item) => ({ item, index: 0 })) });
      chosen = [node, ...more.map(({ id }) => id)];
    }
    expect(flatten(document).graph.nodes.length).toBeLessThan(25_000);
  });

  it("the border of a capsule stays when all in it is removed or copied", () => {
    const { document, name } = packed(petals, ["ring", "clones"]);
    const inside = openCapsule(document, name);
    const all = new Set(inside.graph.nodes.map(({ id }) => id));
    const left = done(inside, removeHealedEdit(inside, all, [])).graph.nodes;
    expect(left.map(({ type }) => type)).toEqual([`inputs-of:${name}`, `outputs-of:${name}`]);
    expect(duplicateEdit(inside, all).ids).toHaveLength(2);
  });

  it("names that every object knows are no capsules", () => {
    for (const name of ["constructor", "toString", "__proto__"]) {
      const odd = graphOf({ part: { type: `capsule:${name}` }, stage: { type: "stage" } });
      expect(flatten(odd).graph.nodes).toHaveLength(2);
      expect(definitionOf(odd, `capsule:${name}`)).toBeUndefined();
      expect(capsulesOf(odd.capsules, odd.graph.nodes)).toEqual({});
    }
  });

  it("a capsule that the piece does not have is kept and reported", () => {
    const lost = graphOf({ part: { type: "capsule:lost" }, stage: { type: "stage" } }, [
      "part.shape>stage.shape",
    ]);
    expect(evaluate(lost).report.nodes.part.problems[0].what).toMatch(/no capsule "lost"/);
    expect(checkDocument(lost)).toHaveLength(1);
  });
});

describe("capsules between pieces", () => {
  it("come once when they are the same, and under another name when they are not", () => {
    const { document, name } = packed(petals, ["ring", "clones"]);
    expect(bringCapsules(document.capsules, document.capsules).edits).toEqual([]);
    const other = { ...document.capsules, [name]: { ...document.capsules[name], about: "another one" } };
    const { names, edits } = bringCapsules(document.capsules, other);
    expect(names.get(name)).toBe(`${name}-2`);
    const both = edits.reduce(done, document);
    const types = both.capsules[`${name}-2`].graph.nodes.map(({ type }) => type);
    expect(types).toContain(`inputs-of:${name}-2`);
    expect(checkDocument(both)).toEqual([]);
  });
});

describe("values of other nodes' inputs", () => {
  it("follow them: numbers, angles in degrees, vectors, choices", () => {
    const document = graphOf(
      {
        one: { type: "ring-sites", set: { count: 7, sweep: 90, around: "z" } },
        two: { type: "ring-sites", set: { radius: 5 } },
        move: { type: "move", set: { by: [1, 2, 3] } },
        place: { type: "place" },
        stage: { type: "stage" },
      },
      [
        "one.set:count>two.count",
        "one.set:sweep>two.sweep",
        "one.set:around>two.around",
        "two.sites>move.shape",
        "move.shape>place.shape",
        "move.set:by>place.at",
        "place.shape>stage.shape",
      ],
    );
    expect(checkDocument(document)).toEqual([]);
    const { shape } = evaluate(document);
    expect(shape?.sites?.count).toBe(7);
    const [x, y, z] = shape?.sites?.columns.position.lanes ?? [];
    expect([x[3], y[3], z[3]]).toEqual([1, 2, 3]);
    const same = graphOf({
      two: { type: "ring-sites", set: { radius: 5, count: 7, sweep: 90, around: "z" } },
    });
    const lanes = (piece: PieceDocument) => {
      const { sites } = outputsOf(piece, "two").sites as {
        sites: { columns: { position: { lanes: Float32Array[] } } };
      };
      return sites.columns.position.lanes.map((lane) => [...lane]);
    };
    expect(lanes(document)).toEqual(lanes(same));
  });
});
