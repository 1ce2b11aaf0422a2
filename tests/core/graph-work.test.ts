/** Copying as text, inserting into links: what they do, and that each is undone to the same bytes. */
import fc from "fast-check";
import { applyEdit, type Edit } from "../../src/core/document/edits";
import { parseAddress } from "../../src/core/document/links";
import { writeDocument } from "../../src/core/document/read";
import type { PieceDocument } from "../../src/core/document/schema";
import { demoNames, readDemo } from "../../src/server/demo";
import { nodesAsText, pasteEdit } from "../../src/studio/graph/clipboard-edits";
import { duplicateEdit } from "../../src/studio/graph/graph-edits";
import { insertEdit } from "../../src/studio/graph/links/link-edits";
import { graphOf } from "../run-node";

const undone = (document: PieceDocument, edit: Edit): string => {
  const { document: after, inverse } = applyEdit(document, edit);
  return writeDocument(applyEdit(after, inverse).document);
};

const ring = graphOf(
  {
    ring: { type: "ring-sites", set: { count: 13 } },
    box: { type: "box" },
    clones: { type: "clone-onto-sites" },
    stage: { type: "stage" },
  },
  ["ring.sites>clones.sites", "box.shape>clones.shapes", "clones.clones>stage.shape"],
);

describe("copying nodes as text", () => {
  it("keeps settings and the links between them, under ids that are free, around the given place", () => {
    const text = nodesAsText(ring, new Set(["ring", "clones"]));
    const pasted = pasteEdit(ring, text, [500, 300]);
    if (!pasted.ok) throw new Error(pasted.what);
    const { document } = applyEdit(ring, pasted.edit);
    const copies = document.graph.nodes.filter(({ id }) => pasted.ids.includes(id));
    expect(copies.map(({ type }) => type)).toEqual(["ring-sites", "clone-onto-sites"]);
    expect(copies[0].set).toEqual({ count: 13 });
    expect(new Set(document.graph.nodes.map(({ id }) => id)).size).toBe(6);
    expect(document.graph.links.slice(3)).toEqual([
      { from: `${pasted.ids[0]}.sites`, to: `${pasted.ids[1]}.sites` },
    ]);
    const middle = (copies[0].at[0] + copies[1].at[0]) / 2;
    expect(Math.abs(middle - 500)).toBeLessThanOrEqual(1);
  });

  it("takes any piece's text, between pieces, and is undone to the same bytes", () => {
    const pieces = demoNames().map(readDemo);
    const piece = fc.constantFrom(...pieces);
    fc.assert(
      fc.property(piece, piece, fc.infiniteStream(fc.boolean()), (from, into, coin) => {
        const chosen = new Set(from.graph.nodes.filter(() => coin.next().value).map(({ id }) => id));
        const pasted = pasteEdit(into, nodesAsText(from, chosen), [0, 0]);
        expect(pasted.ok).toBe(chosen.size > 0);
        if (!pasted.ok) return;
        expect(undone(into, pasted.edit)).toBe(writeDocument(into));
        const { document } = applyEdit(into, pasted.edit);
        const ids = new Set(document.graph.nodes.map(({ id }) => id));
        expect(ids.size).toBe(into.graph.nodes.length + chosen.size);
        for (const { from, to } of document.graph.links)
          for (const end of [from, to]) expect(ids.has(parseAddress(end).node)).toBe(true);
        // Every file that a copied node names is there, and is the very one.
        for (const [i, id] of pasted.ids.entries()) {
          const was = from.graph.nodes.filter((node) => chosen.has(node.id))[i];
          const now = document.graph.nodes.find((node) => node.id === id);
          for (const [input, value] of Object.entries(was.set)) {
            const file = typeof value === "string" && from.assets[value];
            if (!file || now?.type === "tint") continue;
            expect(document.assets[String(now?.set[input])]?.hash).toBe(file.hash);
          }
        }
      }),
      { numRuns: 60 },
    );
  });

  it("brings a file of the same name under another one, and the same file not twice", () => {
    const withFile = (hash: string) => ({
      ...graphOf({ seed: { type: "import", set: { file: "pod" } } }),
      assets: { pod: { hash, file: "pod.glb", bytes: 1 } },
    });
    const [one, other] = [withFile("a".repeat(64)), withFile("b".repeat(64))];
    const text = nodesAsText(one, new Set(["seed"]));
    const clash = pasteEdit(other, text, [0, 0]);
    const same = pasteEdit(one, text, [0, 0]);
    if (!clash.ok || !same.ok) throw new Error("It was refused.");
    const clashed = applyEdit(other, clash.edit).document;
    expect(Object.keys(clashed.assets)).toEqual(["pod", "pod-2"]);
    expect(clashed.graph.nodes[1].set.file).toBe("pod-2");
    expect(Object.keys(applyEdit(one, same.edit).document.assets)).toEqual(["pod"]);
  });

  it("refuses text that is no graph in words, whatever it is", () => {
    const said = (text: string) => {
      const pasted = pasteEdit(ring, text, [0, 0]);
      return pasted.ok ? "" : pasted.what;
    };
    expect(said("hello")).toMatch(/^What was pasted holds no nodes\. This is not JSON/);
    expect(said('{"glemmo": 1}')).toMatch(/^What was pasted holds no nodes\. \w+: /);
    expect(said(writeDocument({ ...ring, graph: { nodes: [], links: [] } }))).toContain("has no nodes");
    fc.assert(fc.property(fc.oneof(fc.string(), fc.json()), (text) => expect(said(text)).not.toBe("")));
  });
});

describe("inserting a node into a link", () => {
  const loose = graphOf(
    {
      ring: { type: "ring-sites" },
      lift: { type: "move" },
      hills: { type: "noise" },
      stage: { type: "stage" },
    },
    ["ring.sites>stage.shape"],
  );

  it("leads what came through it, and is undone to the same bytes", () => {
    const edit = insertEdit(loose, "lift", loose.graph.links[0]) as Edit;
    expect(applyEdit(loose, edit).document.graph.links).toEqual([
      { from: "lift.shape", to: "stage.shape" },
      { from: "ring.sites", to: "lift.shape" },
    ]);
    expect(undone(loose, edit)).toBe(writeDocument(loose));
  });

  it("keeps the order of shapes that are merged", () => {
    const merged = graphOf(
      { a: { type: "box" }, b: { type: "sphere" }, lift: { type: "move" }, all: { type: "merge" } },
      ["a.shape>all.shapes", "b.shape>all.shapes"],
    );
    const edit = insertEdit(merged, "lift", merged.graph.links[0]) as Edit;
    const into = applyEdit(merged, edit).document.graph.links.filter(({ to }) => to === "all.shapes");
    expect(into.map(({ from }) => from)).toEqual(["lift.shape", "b.shape"]);
  });

  it("leaves alone what does not fit or is linked already", () => {
    expect(insertEdit(loose, "hills", loose.graph.links[0])).toBeNull();
    expect(insertEdit(ring, "box", ring.graph.links[2])).toBeNull();
  });
});

describe("duplicating", () => {
  it("puts a copy of a copy where none of its like is", () => {
    const once = duplicateEdit(ring, new Set(["box"]));
    const document = applyEdit(ring, once.edit).document;
    expect(
      applyEdit(document, duplicateEdit(document, new Set(once.ids)).edit).document.graph.nodes.map(
        (n) => n.id,
      ),
    ).toEqual(["ring", "box", "clones", "stage", "box-2", "box-3"]);
  });
});
