/** Keys: curves as CSS has them, repeats, every kind of value, and edits of keys that lose nothing. */
import fc from "fast-check";
import { packEdit } from "../../src/core/capsules/pack";
import { exposeEdit, removePortEdit } from "../../src/core/capsules/ports";
import { unpackEdit } from "../../src/core/capsules/unpack";
import { applyEdit, type Edit } from "../../src/core/document/edits";
import { validateDocument, writeDocument } from "../../src/core/document/read";
import type { PieceDocument, Track } from "../../src/core/document/schema";
import { checkDocument } from "../../src/core/evaluate/check-document";
import { Evaluator } from "../../src/core/evaluate/evaluator";
import { eased, type Handles } from "../../src/core/keys/ease";
import { REPEATS } from "../../src/core/keys/repeat";
import { keyAt, movedKeys, valueAt, withoutKeys, withValue } from "../../src/core/keys/track";
import { catalogue } from "../../src/core/nodes/catalogue";
import { keyedEdit, settingAt } from "../../src/studio/state/keyed-edits";
import {
  copyKeys,
  moveKeysEdit,
  pasteKeysEdit,
  removeKeysEdit,
  trackRows,
} from "../../src/studio/timeline/track-edits";
import { graphOf } from "../run-node";

const NUMBER = { kind: "number" } as const;
const track = (...keys: Track["keys"]): Track => ({ keys });
const done = (document: PieceDocument, edit: Edit): PieceDocument => applyEdit(document, edit).document;

describe("curves", () => {
  // CSS Easing Functions Level 1, § 2.2: keywords and the cubic Bézier; values by 50-digit roots (checks EAS-01 … EAS-06).
  it.each([
    ["ease", [0.408510591355, 0.802403387585, 0.960458978349]],
    ["ease-in", [0.0934646507188, 0.315356812573, 0.621861869175]],
    ["ease-out", [0.378138130825, 0.684643187427, 0.906535349281]],
    ["ease-in-out", [0.129161931047, 0.5, 0.870838068953]],
    ["linear", [0.25, 0.5, 0.75]],
  ] as const)("are those of CSS: %s", (name, values) => {
    values.forEach((value, i) => {
      expect(eased(name, (i + 1) / 4)).toBeCloseTo(value, 10);
    });
  });

  it("may swing over their ends, and stay within an input's limits", () => {
    const handles: Handles = [0.68, -0.55, 0.265, 1.55];
    [-0.06629147733, -0.08280710883, 0.6066798972, 1.089165775, 1.062373195].forEach((value, i) => {
      expect(eased(handles, [0.1, 0.25, 0.5, 0.75, 0.9][i])).toBeCloseTo(value, 8);
    });
    const swinging = track({ frame: 0, value: 0, ease: [...handles] }, { frame: 100, value: 10 });
    expect(valueAt(swinging, NUMBER, 75)).toBeCloseTo(10.89165775, 5);
    expect(valueAt(swinging, { kind: "number", max: 10 }, 75)).toBe(10);
  });

  it("lead from key to key at fractional frames too", () => {
    // Handles at (3, 0) and (7, 100) of keys (0, 0) and (10, 100): check KEY-08.
    const keys = track({ frame: 0, value: 0, ease: [0.3, 0, 0.7, 1] }, { frame: 10, value: 100 });
    [1, 2.5, 5, 7.5, 9].forEach((frame, i) => {
      const wanted = [3.220314632, 16.67792643, 50, 83.32207357, 96.77968537][i];
      expect(valueAt(keys, NUMBER, frame)).toBeCloseTo(wanted, 4);
    });
  });

  it("never run backwards, for any handles whose values rise", () => {
    const part = fc.double({ min: 0, max: 1, noNaN: true });
    fc.assert(
      fc.property(part, part, part, part, part, part, (x1, y1, x2, y2, s, t) => {
        const [a, b] = [Math.min(s, t), Math.max(s, t)];
        const handles: Handles = [x1, Math.min(y1, y2), x2, Math.max(y1, y2)];
        expect(eased(handles, b)).toBeGreaterThanOrEqual(eased(handles, a) - 1e-9);
      }),
    );
  });
});

describe("repeats", () => {
  it("turn 90 frames of 1° to 90°, ten times as fast to 900°, however few keys say so", () => {
    // Common practice, no source.
    const turning: Track = {
      ...track({ frame: 0, value: 0 }, { frame: 1, value: 1 }),
      after: "again from there",
    };
    expect(valueAt(turning, NUMBER, 90)).toBeCloseTo(90, 6);
    const fast: Track = { ...turning, keys: [turning.keys[0], { frame: 1, value: 10 }] };
    expect(valueAt(fast, NUMBER, 90)).toBeCloseTo(900, 5);
    expect(valueAt({ ...turning, before: "again from there" }, NUMBER, -7.5)).toBeCloseTo(-7.5, 6);
  });

  it("hold, go round, and go to and fro", () => {
    const keys = track({ frame: 10, value: 2 }, { frame: 20, value: 4 });
    const at = (frame: number, repeat?: (typeof REPEATS)[number]) =>
      valueAt({ ...keys, before: repeat, after: repeat }, NUMBER, frame);
    expect([0, 15, 99].map((f) => at(f))).toEqual([2, 3, 4]);
    expect([5, 15, 25, 32].map((f) => at(f, "again"))).toEqual([3, 3, 3, 2.4]);
    expect([5, 8, 22, 32].map((f) => at(f, "to and fro"))).toEqual([3, 2.4, 3.6, 2.4]);
    // One key has nothing to repeat.
    for (const repeat of REPEATS)
      expect(valueAt({ ...track({ frame: 5, value: 7 }), after: repeat }, NUMBER, 50)).toBe(7);
  });

  it("are closed: a round later everything is as it was", () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 50 }), fc.integer({ min: -500, max: 500 }), (span, frame) => {
        const keys: Track = { ...track({ frame: 3, value: 1, ease: "ease" }, { frame: 3 + span, value: 1 }) };
        keys.keys.splice(1, 0, { frame: 3 + span / 2, value: 5, ease: "ease-in" });
        const round: Track = { ...keys, before: "again", after: "again" };
        expect(valueAt(round, NUMBER, frame + span)).toBeCloseTo(valueAt(round, NUMBER, frame) as number, 6);
      }),
    );
  });
});

describe("values of every kind", () => {
  it("go from one to the next, or change when the next key comes", () => {
    const two = (a: unknown, b: unknown, ease?: "hold") =>
      track({ frame: 0, value: a as never, ...(ease ? { ease } : {}) }, { frame: 10, value: b as never });
    expect(valueAt(two([0, 10, 20], [10, 10, 0]), { kind: "vector" }, 5)).toEqual([5, 10, 10]);
    // Angles go the whole way: three turns are three turns.
    expect(valueAt(two([0, 0, 0], [0, 1080, 0]), { kind: "rotation" }, 5)).toEqual([0, 540, 0]);
    expect(valueAt(two(1, 4), { kind: "number", whole: true }, 4)).toBe(2);
    expect(valueAt(two("#000000", "#ffffff"), { kind: "color" }, 10)).toBe("#ffffff");
    expect(valueAt(two(false, true), { kind: "toggle" }, 9.9)).toBe(true);
    expect(valueAt(two(false, true, "hold"), { kind: "toggle" }, 9.9)).toBe(false);
    expect(valueAt(two("x", "y", "hold"), { kind: "choice", choices: ["x", "y"] }, 10)).toBe("y");
    expect(valueAt(two(0, 8, "hold"), NUMBER, 9)).toBe(0);
  });
});

const keyed = (): PieceDocument => {
  const piece = graphOf(
    {
      ring: { type: "ring-sites", set: { count: 4, radius: 9 } },
      pod: { type: "box" },
      clones: { type: "clone-onto-sites" },
      stage: { type: "stage" },
    },
    ["ring.sites>clones.sites", "pod.shape>clones.shapes", "clones.clones>stage.shape"],
  );
  return done(piece, {
    kind: "set-track",
    node: "ring",
    input: "radius",
    track: track({ frame: 0, value: 1 }, { frame: 10, value: 3 }),
  });
};

/** How far the first site lies out. */
const radiusAt = (piece: PieceDocument, frame: number, evaluator = new Evaluator()) => {
  const { shape, report } = evaluator.evaluate(piece, frame);
  return { radius: shape?.sites?.columns.position.lanes[0][0], state: report.nodes.ring?.state };
};

describe("a keyed input", () => {
  it("has the value of its keys at every frame, in place of the one that is set", () => {
    expect([0, 5, 7.5, 99].map((frame) => radiusAt(keyed(), frame).radius)).toEqual([1, 2, 2.5, 3]);
  });

  it("costs nothing while its value stays", () => {
    const evaluator = new Evaluator();
    const piece = keyed();
    expect(radiusAt(piece, 20, evaluator).state).toBe("ran");
    expect(radiusAt(piece, 21, evaluator).state).toBe("reused");
    expect(radiusAt(piece, 9, evaluator).state).toBe("ran");
  });

  it("tells keys that do not fit, and keeps them", () => {
    const piece = done(keyed(), {
      kind: "set-track",
      node: "ring",
      input: "count",
      track: track({ frame: 0, value: 5 }, { frame: 20, value: "many" }),
    });
    expect(checkDocument(piece)).toEqual([
      expect.objectContaining({ node: "ring", port: "count", what: expect.stringContaining("at frame 20") }),
    ]);
    const { report } = new Evaluator().evaluate(piece, 20);
    expect(report.nodes.ring.problems[0].what).toContain('it is "many"');
    const raw = JSON.parse(writeDocument(keyed()));
    raw.graph.nodes[0].keys.radius.keys[1].frame = 0;
    expect(validateDocument(raw)).toEqual({
      ok: false,
      faults: [
        {
          where: "graph.nodes[0].keys.radius.keys[1].frame",
          what: "Frame 0 does not come after the key before it, at 0.",
        },
      ],
    });
    raw.graph.nodes[0].keys.radius.keys = [];
    expect(validateDocument(raw)).toMatchObject({ ok: false });
    raw.graph.nodes[0].keys.radius.keys = [{ frame: 0, value: 1, ease: [2, 0, 0, 0] }];
    expect(validateDocument(raw)).toMatchObject({ ok: false });
  });

  it("stays so in capsules: packed as a dial, exposed, and taken out again", () => {
    const piece = done(keyed(), {
      kind: "add",
      dials: [{ item: { label: "How wide", input: "ring.radius" }, index: 0 }],
    });
    const packed = packEdit(piece, new Set(["ring", "clones"]), "Ring");
    if (!packed.ok) throw new Error(packed.what);
    const inside = done(piece, packed.edit);
    expect([0, 5, 99].map((frame) => radiusAt(inside, frame).radius)).toEqual([1, 2, 3]);
    const unpacked = unpackEdit(inside, packed.node);
    if (!unpacked.ok) throw new Error(unpacked.what);
    const out = done(inside, unpacked.edit);
    expect([0, 5, 99].map((frame) => radiusAt(out, frame).radius)).toEqual([1, 2, 3]);

    const plain = packEdit(keyed(), new Set(["ring", "clones"]), "Ring");
    if (!plain.ok) throw new Error(plain.what);
    const closed = done(keyed(), plain.edit);
    const exposed = done(closed, exposeEdit(closed, plain.name, "ring.radius") as Edit);
    expect([0, 5, 99].map((frame) => radiusAt(exposed, frame).radius)).toEqual([1, 2, 3]);
    expect(exposed.capsules[plain.name].graph.nodes.every((node) => !node.keys)).toBe(true);
    const gone = done(exposed, removePortEdit(exposed, plain.name, "inputs", "radius"));
    expect(gone.graph.nodes.every((node) => !node.keys)).toBe(true);
    const [edit] = [exposeEdit(closed, plain.name, "ring.radius") as Edit];
    const { document, inverse } = applyEdit(closed, edit);
    expect(writeDocument(applyEdit(document, inverse).document)).toBe(writeDocument(closed));
  });
});

describe("a keyed number of an instance", () => {
  it("becomes keys of the vector that it fed when the instance is taken apart", () => {
    const piece = graphOf({ pod: { type: "box" }, grown: { type: "transform" }, stage: { type: "stage" } }, [
      "pod.shape>grown.shape",
      "grown.shape>stage.shape",
    ]);
    const packed = packEdit(piece, new Set(["grown"]), "Grown");
    if (!packed.ok) throw new Error(packed.what);
    let inside = done(piece, packed.edit);
    inside = done(inside, exposeEdit(inside, packed.name, "grown.size") as Edit);
    const { capsules } = inside;
    const capsule = capsules[packed.name];
    const links = capsule.graph.links.map((link) =>
      link.to === "grown.size" ? { ...link, to: "grown.scale" } : link,
    );
    const fed = { ...capsule, graph: { ...capsule.graph, links } };
    inside = done(inside, { kind: "set-capsule", name: packed.name, capsule: fed });
    const keys = track({ frame: 0, value: 1 }, { frame: 10, value: 3 });
    inside = done(inside, { kind: "set-track", node: packed.node, input: "size", track: keys });
    const unpacked = unpackEdit(inside, packed.node);
    if (!unpacked.ok) throw new Error(unpacked.what);
    const out = done(inside, unpacked.edit);
    expect(checkDocument(out)).toEqual([]);
    const widths = [inside, out].map((whole) =>
      [0, 5, 10].map((frame) =>
        Math.max(
          ...(new Evaluator().evaluate(whole, frame).shape?.mesh?.points.columns.position.lanes[0] ?? []),
        ),
      ),
    );
    expect(widths[0]).toEqual([0.5, 1, 1.5]);
    expect(widths[1]).toEqual(widths[0]);
  });
});

describe("edits of keys", () => {
  const radius = catalogue.get("ring-sites")?.inputs.radius;
  const set = (value: number): Edit => ({ kind: "set-input", node: "ring", input: "radius", value });

  it("make a key of what is set at a keyed input, and of everything when asked", () => {
    const piece = done(keyed(), keyedEdit(keyed(), set(7), 5, false));
    expect(piece.graph.nodes[0].keys?.radius.keys.map(({ frame, value }) => [frame, value])).toEqual([
      [0, 1],
      [5, 7],
      [10, 3],
    ]);
    expect(settingAt(piece.graph.nodes[0], "radius", radius, 5)).toBe(7);
    const count: Edit = { kind: "set-input", node: "ring", input: "count", value: 6 };
    expect(keyedEdit(piece, count, 5, false)).toBe(count);
    expect(keyedEdit(piece, count, 5, true)).toMatchObject({ kind: "set-track", input: "count" });
    const cleared = done(piece, keyedEdit(piece, { ...set(0), value: undefined } as Edit, 5, false));
    expect(cleared.graph.nodes[0]).not.toHaveProperty("keys");
  });

  it("keep a track in order and without two keys at a frame, whatever is moved where", () => {
    const frames = fc.uniqueArray(fc.integer({ min: -20, max: 20 }), { minLength: 1, maxLength: 12 });
    fc.assert(
      fc.property(frames, fc.func(fc.boolean()), fc.integer({ min: -30, max: 30 }), (at, isChosen, by) => {
        let whole: Track | undefined;
        for (const frame of at) whole = withValue(whole, frame, frame * 10);
        const chosen = at.filter((frame) => isChosen(frame));
        const moved = movedKeys(whole as Track, chosen, (frame) => frame + by);
        const order = moved.keys.map(({ frame }) => frame);
        expect(order).toEqual([...new Set(order)].sort((a, b) => a - b));
        for (const frame of chosen) expect(keyAt(moved, frame + by)?.value).toBe(frame * 10);
        const removed = withoutKeys(whole as Track, chosen);
        expect(removed?.keys.length ?? 0).toBe(at.length - chosen.length);
      }),
    );
  });

  it("stretch, copy, paste and remove over several inputs, undone to the same bytes", () => {
    let piece = keyed();
    piece = done(piece, {
      kind: "set-track",
      node: "ring",
      input: "start",
      track: track({ frame: 4, value: 0, ease: "ease" }, { frame: 8, value: 90 }),
    });
    const rows = trackRows(piece);
    expect(rows.map(({ address }) => address)).toEqual(["ring.radius", "ring.start"]);
    const chosen = new Map([
      ["ring.radius", [10]],
      ["ring.start", [4, 8]],
    ]);
    const stretched = moveKeysEdit(rows, chosen, (frame) => frame * 2);
    const wide = done(piece, stretched.edit);
    expect(wide.graph.nodes[0].keys?.start.keys.map(({ frame }) => frame)).toEqual([8, 16]);
    expect([...stretched.chosen.values()].flat()).toEqual([20, 8, 16]);
    const text = copyKeys(rows, chosen);
    const pasted = pasteKeysEdit(trackRows(wide), text, 100);
    const twice = done(wide, pasted?.edit as Edit);
    expect(twice.graph.nodes[0].keys?.start.keys.map(({ frame }) => frame)).toEqual([8, 16, 100, 104]);
    expect(twice.graph.nodes[0].keys?.start.keys[2].ease).toBe("ease");
    expect(pasteKeysEdit(rows, "a shopping list", 0)).toBeNull();
    expect(pasteKeysEdit(rows, '{"glemmoKeys":{"gone.count":[{"frame":0,"value":1}]}}', 0)).toBeNull();
    const none = removeKeysEdit(
      rows,
      new Map(rows.map(({ address, track: t }) => [address, t.keys.map((k) => k.frame)])),
    );
    const bare = done(piece, none);
    expect(bare.graph.nodes[0]).toMatchObject({ set: { radius: 1, start: 0 } });
    expect(bare.graph.nodes[0]).not.toHaveProperty("keys");
    for (const edit of [stretched.edit, none, pasted?.edit as Edit]) {
      const { document, inverse } = applyEdit(piece, edit);
      expect(writeDocument(applyEdit(document, inverse).document)).toBe(writeDocument(piece));
    }
  });
});
