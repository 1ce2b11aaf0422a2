/** Nodes that link themselves as they are added, and cards that make room. Common practice, no source. */
import fc from "fast-check";
import { indexGraph, orderFrom, parseAddress } from "../../src/core/document/links";
import type { PieceDocument } from "../../src/core/document/schema";
import { canLink } from "../../src/core/evaluate/convert";
import { Evaluator } from "../../src/core/evaluate/evaluator";
import { catalogue } from "../../src/core/nodes/catalogue";
import { addLinked } from "../../src/studio/graph/adder/add-linked";
import { addNodeEdit, portKind, typeOf } from "../../src/studio/graph/graph-edits";
import { createStudioStore, type StudioStore } from "../../src/studio/state/store";
import { BLANK, boxesOf, overlaps } from "../cards";

const blank = (): StudioStore => createStudioStore("piece", BLANK);

/** As the adder does it: each new node is then the one that is chosen. */
function add(store: StudioStore, ...types: readonly string[]): PieceDocument {
  for (const type of types) {
    const { document } = store.getState().opened;
    const { id, edit } = addNodeEdit(document, type, [0, 0]);
    expect(addLinked(store, edit, id, boxesOf(document), [0, 0])).toBe(true);
  }
  return store.getState().document;
}

const linksOf = ({ graph }: PieceDocument) => graph.links.map(({ from, to }) => `${from}>${to}`).sort();
const RING_OF_BOXES = [
  "box.shape>clone-onto-sites.shapes",
  "clone-onto-sites.clones>stage.shape",
  "ring-sites.sites>clone-onto-sites.sites",
];

describe("a node that is added", () => {
  it("goes to the Stage by itself when it is a camera, a light or a finish", () => {
    const links = linksOf(add(blank(), "box", "camera", "light", "light", "finish"));
    expect(links).toEqual([
      "box.shape>stage.shape",
      "camera.camera>stage.camera",
      "finish.finish>stage.finish",
      "light-2.light>stage.lights",
      "light.light>stage.lights",
    ]);
  });

  it("stands between the clones and the Stage when it is a material", () => {
    expect(linksOf(add(blank(), "box", "material"))).toEqual([
      "box.shape>material.shape",
      "material.shape>stage.shape",
    ]);
  });

  it.each([
    [["ring-sites", "clone-onto-sites", "box"]],
    [["ring-sites", "box", "clone-onto-sites"]],
    [["box", "ring-sites", "clone-onto-sites"]],
    [["box", "clone-onto-sites", "ring-sites"]],
    [["clone-onto-sites", "ring-sites", "box"]],
    [["clone-onto-sites", "box", "ring-sites"]],
  ])("a ring of boxes on the stage is three of them, in any order: %s", (types) => {
    const document = add(blank(), ...types);
    expect(linksOf(document)).toEqual(RING_OF_BOXES);
    const { outputs } = new Evaluator().evaluate(document, 0, { target: "clone-onto-sites" });
    const clones = outputs?.clones as { sites: { count: number } };
    expect(clones.sites.count).toBe(12);
  });

  it("hands births and forces to Particles, wherever those stand, as many as are added", () => {
    const store = blank();
    const document = add(
      store,
      "torus",
      "particles",
      "emitter",
      "gravity",
      "clone-onto-sites",
      "sphere",
      "swirl-force",
    );
    expect(linksOf(document)).toEqual(
      expect.arrayContaining([
        "torus.shape>particles.births",
        "emitter.births>particles.births",
        "gravity.force>particles.forces",
        "swirl-force.force>particles.forces",
        "particles.sites>clone-onto-sites.sites",
        "sphere.shape>clone-onto-sites.shapes",
      ]),
    );
  });

  it("goes between the chosen one and where that went on", () => {
    const store = blank();
    add(store, "ring-sites", "clone-onto-sites", "box");
    store.getState().select(["ring-sites"]);
    expect(linksOf(add(store, "spiral-sites", "repeat"))).toContain("spiral-sites.sites>repeat.shape");
    store.getState().select(["clone-onto-sites"]);
    const document = add(store, "rotate");
    expect(linksOf(document)).toEqual(
      expect.arrayContaining(["clone-onto-sites.clones>rotate.shape", "rotate.shape>stage.shape"]),
    );
    expect(linksOf(document)).not.toContain("clone-onto-sites.clones>stage.shape");
  });

  it("drives the chosen one by what it has free, and is driven by a chosen one", () => {
    const store = blank();
    add(store, "ring-sites", "clone-onto-sites", "box");
    store.getState().select(["clone-onto-sites"]);
    expect(linksOf(add(store, "scale", "noise"))).toContain("noise.value>scale.size");
    expect(linksOf(add(store, "gradient"))).toContain("noise.value>gradient.value");
    expect(linksOf(add(store, "tint"))).toEqual(
      expect.arrayContaining([
        "gradient.color>tint.color",
        "scale.shape>tint.shape",
        "tint.shape>stage.shape",
      ]),
    );
  });

  it("is merged with what the stage shows, and a third with those", () => {
    const store = blank();
    add(store, "box");
    store.getState().select([]);
    expect(linksOf(add(store, "sphere"))).toEqual([
      "box.shape>merge.shapes",
      "merge.shape>stage.shape",
      "sphere.shape>merge.shapes",
    ]);
    expect(linksOf(add(store, "torus"))).toContain("torus.shape>merge.shapes");
  });

  it("sites are not merged with what can be seen", () => {
    expect(linksOf(add(blank(), "box", "ring-sites"))).toEqual(["box.shape>stage.shape"]);
  });

  it("one step back takes its links away and keeps it, the next takes it", () => {
    const store = blank();
    add(store, "ring-sites", "clone-onto-sites");
    const before = store.getState().document;
    add(store, "box");
    store.getState().undo();
    expect(linksOf(store.getState().document)).toEqual(linksOf(before));
    expect(store.getState().document.graph.nodes.map(({ id }) => id)).toContain("box");
    store.getState().undo();
    expect(store.getState().document).toEqual(before);
  });

  it("no card ever lands on another, no link goes in a circle, whatever is added behind whatever", () => {
    const types = [...catalogue.keys()].filter((type) => type !== "stage");
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.constantFrom(...types), fc.nat()), { minLength: 1, maxLength: 14 }),
        (steps) => {
          const store = blank();
          for (const [type, choose] of steps) {
            const { nodes } = store.getState().document.graph;
            // Every third time nothing is chosen.
            store.getState().select(choose % 3 === 0 ? [] : [nodes[choose % nodes.length].id]);
            add(store, type);
          }
          const { document } = store.getState();
          expect(overlaps(document)).toEqual([]);
          const ends = document.graph.links.map(({ to }) => to).filter((to) => !isMany(document, to));
          expect(new Set(ends).size).toBe(ends.length);
          expect(
            orderFrom(
              indexGraph(document.graph),
              document.graph.nodes.map(({ id }) => id),
            ).ok,
          ).toBe(true);
          for (const { from, to } of document.graph.links) {
            const [kind, into] = [portKind(document, from, "from"), portKind(document, to, "to")];
            expect(kind && into && canLink(kind, into)).toBe(true);
          }
        },
      ),
      { numRuns: 200 },
    );
  });
});

const isMany = (document: PieceDocument, address: string): boolean => {
  const { node, port } = parseAddress(address);
  return typeOf(document, node)?.inputs[port]?.many === true;
};
