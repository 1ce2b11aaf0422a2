/** The library of capsules: its routes, and that every capsule which ships does what it says. */

import { DELETE, GET, PUT, POST as putBack } from "../../src/app/api/capsules/[id]/route";
import { GET as list, POST } from "../../src/app/api/capsules/route";
import { replaceCapsuleEdit } from "../../src/core/capsules/carry";
import { applyEdit } from "../../src/core/document/edits";
import { writeDocument } from "../../src/core/document/read";
import { blankDocument, type PieceDocument } from "../../src/core/document/schema";
import { checkDocument } from "../../src/core/evaluate/check-document";
import { meshArea } from "../../src/core/geometry/measure";
import { fillCapsules, listCapsules, readCapsule } from "../../src/server/capsules";
import { database, openDatabase } from "../../src/server/database";
import { shippedCapsules } from "../../src/server/demo";
import { bringIn } from "../../src/studio/graph/clipboard-edits";
import { evaluate, graphOf } from "../run-node";

const request = (method = "GET", body?: unknown, query = "") =>
  new Request(`http://127.0.0.1:4310/api${query}`, {
    method,
    body: body === undefined ? undefined : JSON.stringify(body),
    headers: { host: "127.0.0.1:4310" },
  });
const at = (id: string) => ({ params: Promise.resolve({ id }) });
const nowhere = { params: Promise.resolve({}) };

const shipped = shippedCapsules();
const ring = shipped.get("petal-ring") as PieceDocument;
const titled = (title: string): PieceDocument => {
  const [[name, capsule]] = Object.entries(ring.capsules);
  return { ...ring, capsules: { [name]: { ...capsule, title } } };
};

describe("the library", () => {
  it("adds, lists and reads capsules, in versions that all stay", async () => {
    const added = await POST(request("POST", { document: titled("Mine") }), nowhere);
    expect(added.status).toBe(201);
    const { id } = (await added.json()) as { id: string };
    const saved = await PUT(request("PUT", { base: 1, document: titled("Mine again") }), at(id));
    expect(await saved.json()).toEqual({ version: 2 });
    const { capsules } = (await (await list(request(), nowhere)).json()) as { capsules: { id: string }[] };
    expect(capsules.find((capsule) => capsule.id === id)).toMatchObject({ title: "Mine again", version: 2 });
    for (const [query, version] of [
      ["", 2],
      ["?version=1", 1],
    ] as const) {
      const read = await GET(request("GET", undefined, query), at(id));
      expect(await read.json()).toMatchObject({ id, version });
    }
  });

  it("refuses what is no capsule, versions that do not exist and saves over a newer one, in words", async () => {
    const words = async (response: Response) =>
      [response.status, ((await response.json()) as { faults: { what: string }[] }).faults[0].what] as const;
    const { id } = (await (await POST(request("POST", { document: ring }), nowhere)).json()) as {
      id: string;
    };
    const noCapsule = await POST(request("POST", { document: blankDocument("x") }), nowhere);
    expect(await words(noCapsule)).toEqual([400, expect.stringMatching(/one node/)]);
    expect(await words(await POST(request("POST", { document: 7 }), nowhere))).toEqual([
      400,
      expect.any(String),
    ]);
    expect((await GET(request("GET", undefined, "?version=9"), at(id))).status).toBe(404);
    expect(await words(await GET(request("GET", undefined, "?version=x"), at(id)))).toEqual([
      400,
      expect.stringMatching(/no number/),
    ]);
    await PUT(request("PUT", { base: 1, document: ring }), at(id));
    const late = await PUT(request("PUT", { base: 1, document: ring }), at(id));
    expect(await words(late)).toEqual([409, expect.stringMatching(/newer version/)]);
    expect((await GET(request(), at("nobody"))).status).toBe(404);
  });

  it("takes capsules out and puts them back", async () => {
    const { id } = (await (await POST(request("POST", { document: ring }), nowhere)).json()) as {
      id: string;
    };
    expect((await DELETE(request("DELETE"), at(id))).status).toBe(204);
    expect((await GET(request(), at(id))).status).toBe(404);
    expect((await DELETE(request("DELETE"), at(id))).status).toBe(404);
    expect((await putBack(request("POST"), at(id))).status).toBe(204);
    expect((await GET(request(), at(id))).status).toBe(200);
    expect(listCapsules(database()).some((capsule) => capsule.id === id)).toBe(true);
  });

  it("is filled with what ships, once, and with a new version where that has changed", () => {
    const db = openDatabase(":memory:");
    expect(fillCapsules(db, shipped)).toBe(shipped.size);
    expect(fillCapsules(db, shipped)).toBe(0);
    const changed = new Map(shipped).set("petal-ring", titled("Petals"));
    expect(fillCapsules(db, changed)).toBe(1);
    const known = listCapsules(db).find(({ title }) => title === "Petals");
    expect(known?.version).toBe(2);
    expect(writeDocument(readCapsule(db, known?.id ?? "", 1)?.document as PieceDocument)).toBe(
      writeDocument(ring),
    );
  });
});

describe("taking a newer version up", () => {
  it("changes all instances, keeps their values, and is undone to the same bytes", () => {
    const brought = bringIn(graphOf({ stage: { type: "stage" } }), ring, [0, 0]);
    if (!brought.ok) throw new Error(brought.what);
    const [id] = brought.ids;
    let piece = applyEdit(graphOf({ stage: { type: "stage" } }), brought.edit).document;
    piece = applyEdit(piece, { kind: "set-input", node: id, input: "count", value: 9 }).document;
    const edit = replaceCapsuleEdit(piece, "petal-ring", titled("Petals"), { id: "x", version: 2 });
    if (!edit) throw new Error("It brings no capsule.");
    const { document, inverse } = applyEdit(piece, edit);
    expect(document.capsules["petal-ring"]).toMatchObject({
      title: "Petals",
      library: { id: "x", version: 2 },
    });
    expect(document.graph.nodes.find((node) => node.id === id)?.set.count).toBe(9);
    expect(writeDocument(applyEdit(document, inverse).document)).toBe(writeDocument(piece));
    expect(replaceCapsuleEdit(piece, "petal-ring", blankDocument("x"), undefined)).toBeNull();
  });
});

describe("eleven capsules ship", () => {
  it("that is, eleven", () => expect(shipped.size).toBe(11));

  it("one of them takes faces apart, whole before the boundary and gone behind it", () => {
    const piece = shipped.get("dissolve-between");
    if (!piece) throw new Error("It does not ship.");
    const base = graphOf({ ball: { type: "sphere" }, stage: { type: "stage" } });
    const brought = bringIn(base, piece, [0, 0]);
    if (!brought.ok) throw new Error(brought.what);
    const [id] = brought.ids;
    const graph = applyEdit(base, brought.edit).document;
    const linked = applyEdit(graph, {
      kind: "add",
      links: [
        { item: { from: "ball.shape", to: `${id}.shape` }, index: graph.graph.links.length },
        { item: { from: `${id}.shape`, to: "stage.shape" }, index: graph.graph.links.length + 1 },
      ],
    }).document;
    const areaAt = (front: number, arriving: boolean): number => {
      const set = (document: PieceDocument, input: string, value: number | boolean) =>
        applyEdit(document, { kind: "set-input", node: id, input, value }).document;
      const { mesh } = evaluate(set(set(linked, "front", front), "arriving", arriving), 0).shape ?? {};
      return mesh ? meshArea(mesh) : 0;
    };
    const whole = areaAt(-9, false);
    expect(areaAt(9, false)).toBeCloseTo(0, 6);
    expect(areaAt(9, true)).toBeCloseTo(whole, 5);
    expect(areaAt(0, false)).toBeLessThan(whole);
    expect(areaAt(0, false)).toBeGreaterThan(0);
  });

  it.each([...shipped].filter(([name]) => name !== "dissolve-between"))(
    "%s says what each port is and works on a ring of clones",
    (name, piece) => {
      const [capsule] = Object.values(piece.capsules);
      expect(capsule.about).toMatch(/\.$/);
      for (const port of [...capsule.inputs, ...capsule.outputs]) expect(port.about).toMatch(/\.$/);
      const base = graphOf(
        {
          ring: { type: "ring-sites", set: { count: 12, radius: 3 } },
          box: { type: "box", set: { size: [0.3, 0.3, 0.3] } },
          clones: { type: "clone-onto-sites" },
          by: { type: "scale" },
          at: { type: "place", set: { amount: 0.5 } },
          stage: { type: "stage" },
        },
        ["ring.sites>clones.sites", "box.shape>clones.shapes"],
      );
      const brought = bringIn(base, piece, [0, 0]);
      if (!brought.ok) throw new Error(brought.what);
      const [id] = brought.ids;
      const [input] = capsule.inputs;
      const [output] = capsule.outputs;
      const links =
        output.kind === "shape"
          ? [
              { from: input.many ? "box.shape" : "clones.clones", to: `${id}.${input.name}` },
              { from: `${id}.${output.name}`, to: "stage.shape" },
            ]
          : output.kind === "number"
            ? [
                { from: "clones.clones", to: "by.shape" },
                { from: `${id}.${output.name}`, to: "by.size" },
                { from: "by.shape", to: "stage.shape" },
              ]
            : [
                { from: "clones.clones", to: "at.shape" },
                { from: `${id}.${output.name}`, to: "at.at" },
                { from: "at.shape", to: "stage.shape" },
              ];
      const graph = applyEdit(base, brought.edit).document;
      const document = applyEdit(graph, {
        kind: "add",
        links: links.map((item, i) => ({ item, index: graph.graph.links.length + i })),
      }).document;
      expect(checkDocument(document)).toEqual([]);
      const { shape, report } = evaluate(document, 30);
      expect(Object.values(report.nodes).flatMap(({ problems }) => problems)).toEqual([]);
      expect(shape?.sites?.count).toBe(name === "every-nth" ? 6 : 12);
      // It does something.
      const bare = evaluate(
        applyEdit(document, {
          kind: "several",
          edits: [
            { kind: "remove", links: document.graph.links.filter(({ to }) => to === "stage.shape") },
            { kind: "add", links: [{ item: { from: "clones.clones", to: "stage.shape" }, index: 0 }] },
          ],
        }).document,
        30,
      ).shape;
      const lanes = (of: typeof shape) =>
        Object.entries(of?.sites?.columns ?? {}).map(([n, c]) => [n, ...c.lanes.map((lane) => [...lane])]);
      expect(lanes(shape)).not.toEqual(lanes(bare));
    },
  );
});
