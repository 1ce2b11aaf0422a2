import fc from "fast-check";
import {
  applyEdit,
  type Edit,
  freshId,
  linkEdit,
  openCapsule,
  removalOf,
} from "../../src/core/document/edits";
import { writeDocument } from "../../src/core/document/read";
import { blankDocument, type Note, type PieceDocument } from "../../src/core/document/schema";
import { duplicateEdit, removeEdit } from "../../src/studio/graph/graph-edits";
import { closeGroup, EMPTY_HISTORY, type History, perform, redo, undo } from "../../src/studio/state/history";
import { graphOf } from "../run-node";

const start = (): PieceDocument => ({
  ...graphOf(
    {
      ring: { type: "ring-sites" },
      box: { type: "box", set: { cuts: 1 } },
      clones: { type: "clone-onto-sites" },
      stage: { type: "stage" },
    },
    ["ring.sites>clones.sites", "box.shape>clones.shapes", "clones.clones>stage.shape"],
  ),
  capsules: {
    inner: {
      title: "Inner",
      about: "",
      inputs: [],
      outputs: [],
      graph: graphOf({ noise: { type: "noise" } }, ["noise.value>noise.size"]).graph,
    },
  },
  dials: [{ label: "Count", input: "ring.count" }],
});

/** A random edit that makes sense for the document as it is. */
function editFor(document: PieceDocument, kind: number, pick: number, value: number): Edit {
  const { nodes, links } = document.graph;
  const node = nodes[pick % Math.max(1, nodes.length)];
  const link = links[pick % Math.max(1, links.length)];
  const { notes = [] } = document.graph;
  const note = notes[pick % Math.max(1, notes.length)];
  switch (kind % 20) {
    case 0:
      if (node)
        return {
          kind: "set-input",
          node: node.id,
          input: "count",
          value: pick % 3 === 0 ? undefined : value,
        };
      break;
    case 1:
      if (node) return { kind: "set-bypass", node: node.id, bypass: value % 2 === 0 };
      break;
    case 2:
      if (node) return { kind: "move-nodes", to: { [node.id]: [value, pick] } };
      break;
    case 3: {
      const id = freshId(document, "noise");
      return {
        kind: "add",
        nodes: [{ item: { id, type: "noise", at: [value, 0], set: {} }, index: pick % (nodes.length + 1) }],
      };
    }
    case 4:
      if (node) return removalOf(document, new Set([node.id]));
      break;
    case 5:
      if (link) return { kind: "remove", links: [link] };
      break;
    case 6:
      if (node && nodes[0] !== node)
        return linkEdit(document, { from: `${nodes[0].id}.value`, to: `${node.id}.amount` }, value % 2 === 0);
      break;
    case 7:
      return { kind: "set-settings", settings: { fps: 12 + (value % 20), last: 300 + (pick % 9) } };
    case 10:
      return { kind: "replace", document: { ...start(), name: `version ${value}` } };
    case 11:
      if (node) return { kind: "set-type", node: node.id, type: value % 2 === 0 ? "noise" : "box" };
      break;
    case 12:
      if (node)
        return {
          kind: "set-limits",
          node: node.id,
          input: `input${pick % 2}`,
          limits: value % 3 === 0 ? undefined : [0, value],
        };
      break;
    case 19:
      if (node)
        return {
          kind: "set-fit",
          node: node.id,
          fit: value % 3 === 0 ? undefined : { part: "most", frames: [0, value] },
        };
      break;
    case 13:
      if (link) return { kind: "set-via", link, via: value % 3 === 0 ? undefined : [[value, pick]] };
      break;
    case 14: {
      const id = `note-${notes.length}-${value}`;
      const item: Note = { id, at: [0, pick], size: [200, 100], text: "why", tint: "moss" };
      if (notes.some((other) => other.id === id)) break;
      return { kind: "add", notes: [{ item, index: pick % (notes.length + 1) }] };
    }
    case 15:
      if (note && value % 2 === 0) return { kind: "remove", notes: [note.id] };
      if (note) return { kind: "set-note", note: { ...note, text: `note ${value}` } };
      break;
    case 16:
      if (value % 2 === 0) return { kind: "set-dials", dials: [...document.dials].reverse() };
      return {
        kind: "set-snapshots",
        snapshots: value % 3 === 0 ? undefined : [{ name: "one", values: { "ring.count": value } }],
      };
    case 17: {
      if (!document.capsules.inner) break;
      const inside = openCapsule(document, "inner");
      return {
        kind: "within",
        capsule: "inner",
        edit: editFor(inside, pick % 17 === 10 ? 0 : pick % 17, value, pick),
      };
    }
    case 18: {
      const { inner } = start().capsules;
      return {
        kind: "set-capsule",
        name: value % 2 === 0 ? "inner" : "other",
        capsule: value % 5 === 0 ? undefined : { ...inner, title: `capsule ${value}` },
      };
    }
    case 8:
      return {
        kind: "set-view",
        view: value % 3 === 0 ? undefined : { position: [value, 1, 2], target: [0, 0, 0] },
      };
    default:
      return {
        kind: "set-asset",
        name: "pod",
        asset: value % 3 === 0 ? undefined : { hash: "0".repeat(64), file: "pod.glb", bytes: value },
      };
  }
  return { kind: "set-name", name: `piece ${value}` };
}

const steps = fc.array(fc.tuple(fc.nat(40), fc.nat(50), fc.nat(100)), { maxLength: 40 });

describe("edits", () => {
  it("undo to the same bytes, for random sequences", () => {
    fc.assert(
      fc.property(steps, (list) => {
        let document = start();
        const before = writeDocument(document);
        const inverses: Edit[] = [];
        for (const [kind, pick, value] of list) {
          const edited = applyEdit(document, editFor(document, kind, pick, value));
          document = edited.document;
          inverses.push(edited.inverse);
        }
        for (const inverse of inverses.reverse()) document = applyEdit(document, inverse).document;
        expect(writeDocument(document)).toBe(before);
      }),
      { numRuns: 300 },
    );
  });

  it("leave the document they are applied to alone", () => {
    const document = start();
    const before = writeDocument(document);
    applyEdit(document, removalOf(document, new Set(["ring", "box"])));
    expect(writeDocument(document)).toBe(before);
  });

  it("remove a node with its links and dials, and bring all of it back in place", () => {
    const document = start();
    const removed = applyEdit(document, removalOf(document, new Set(["ring"])));
    expect(removed.document.graph.links).toHaveLength(2);
    expect(removed.document.dials).toHaveLength(0);
    expect(applyEdit(removed.document, removed.inverse).document).toEqual(document);
  });

  it("replace the link of an input that takes one, and add to one that takes several", () => {
    const document = start();
    const one = applyEdit(
      document,
      linkEdit(document, { from: "box.shape", to: "clones.sites" }, false),
    ).document;
    expect(one.graph.links.filter((l) => l.to === "clones.sites")).toEqual([
      { from: "box.shape", to: "clones.sites" },
    ]);
    const many = applyEdit(
      document,
      linkEdit(document, { from: "ring.sites", to: "clones.shapes" }, true),
    ).document;
    expect(many.graph.links.filter((l) => l.to === "clones.shapes")).toHaveLength(2);
  });

  it("name what is missing", () => {
    expect(() => applyEdit(start(), { kind: "set-bypass", node: "nobody", bypass: true })).toThrow(
      '"nobody"',
    );
  });
});

describe("history", () => {
  it("walks back and forth through random edits", () => {
    fc.assert(
      fc.property(steps, (list) => {
        let state: { document: PieceDocument; history: History } = {
          document: start(),
          history: EMPTY_HISTORY,
        };
        const texts = [writeDocument(state.document)];
        for (const [kind, pick, value] of list) {
          state = perform(state.document, state.history, editFor(state.document, kind, pick, value));
          texts.push(writeDocument(state.document));
        }
        for (let i = texts.length - 2; i >= 0; i--) {
          state = undo(state.document, state.history) ?? state;
          expect(writeDocument(state.document)).toBe(texts[i]);
        }
        expect(undo(state.document, state.history)).toBeNull();
        for (let i = 1; i < texts.length; i++) state = redo(state.document, state.history) ?? state;
        expect(writeDocument(state.document)).toBe(texts[texts.length - 1]);
        expect(redo(state.document, state.history)).toBeNull();
      }),
      { numRuns: 100 },
    );
  });

  it("takes a drag back in one step, and keeps two drags apart", () => {
    let state = { document: start(), history: EMPTY_HISTORY };
    const drag = (value: number) => {
      state = perform(
        state.document,
        state.history,
        { kind: "set-input", node: "ring", input: "radius", value },
        "drag ring.radius",
      );
    };
    for (const value of [1, 2, 3]) drag(value);
    state = { ...state, history: closeGroup(state.history) };
    for (const value of [4, 5]) drag(value);
    expect(state.history.past).toHaveLength(2);
    state = undo(state.document, state.history) ?? state;
    expect(state.document.graph.nodes[0].set.radius).toBe(3);
    state = undo(state.document, state.history) ?? state;
    expect(state.document.graph.nodes[0].set.radius).toBeUndefined();
    state = redo(state.document, state.history) ?? state;
    expect(state.document.graph.nodes[0].set.radius).toBe(3);
  });
});

describe("graph edits", () => {
  it("duplicate a part with the links inside and into it", () => {
    const document = start();
    const { ids, edit } = duplicateEdit(document, new Set(["clones", "box"]));
    const { document: doubled } = applyEdit(document, edit);
    expect(ids).toEqual(["box-2", "clone-onto-sites"]);
    expect(doubled.graph.links.slice(3)).toEqual([
      { from: "ring.sites", to: "clone-onto-sites.sites" },
      { from: "box-2.shape", to: "clone-onto-sites.shapes" },
    ]);
  });

  it("remove nodes and links together without naming a link twice", () => {
    const document = start();
    const edit = removeEdit(document, new Set(["stage"]), [document.graph.links[2], document.graph.links[0]]);
    expect(applyEdit(document, edit).document.graph.links).toEqual([document.graph.links[1]]);
  });

  it("make ids that are free", () => {
    expect(freshId(blankDocument("x"), "box")).toBe("box");
    expect(freshId(start(), "stage")).toBe("stage-2");
  });
});
