/** What surfaces are made of: as attributes, on the way to the stage, and as materials of glTF 2.0 (Khronos specification, appendix B, and its extensions). */
import { Document, type Material, WebIO } from "@gltf-transform/core";
import {
  ALL_EXTENSIONS,
  type Anisotropy,
  type Clearcoat,
  type EmissiveStrength,
  type IOR,
  type Transmission,
} from "@gltf-transform/extensions";
import { validateBytes } from "gltf-validator";
import { IN_MEMORY, ORDINARY } from "../../src/core/draw/draw-memory";
import { type DrawBatch, drawingOf } from "../../src/core/draw/drawing";
import { isMoved, MovingMesh } from "../../src/core/draw/moving-mesh";
import { triangulated } from "../../src/core/draw/triangulate";
import { readGlb } from "../../src/core/formats/read/glb";
import { writeGlb } from "../../src/core/formats/write/glb";
import type { Mesh } from "../../src/core/geometry/mesh";
import type { Shape } from "../../src/core/geometry/shape";
import {
  LOOK_NAMES,
  LOOK_WIDTH,
  type LookName,
  packedInk,
  UNSAID,
  USUAL_LOOK,
} from "../../src/core/geometry/surface-look";
import { READY_MATERIALS, READY_NAMES } from "../../src/core/nodes/dress/ready-materials";
import type { Setting } from "../../src/core/nodes/ports";
import { formed } from "../formed";
import { graphOf, type NodeSpec, reportOf } from "../run-node";

type Set = Record<string, Setting>;
const at = (name: LookName) => LOOK_NAMES.indexOf(name);
const lookOf = (looks: Float32Array | null | undefined, i: number, name: LookName) =>
  looks?.[i * LOOK_WIDTH + at(name)];

const ROW: NodeSpec = { type: "row-sites", set: { count: 5, from: [0, 0, 0], to: [4, 0, 0] } };
const material = (set: Set): NodeSpec => ({ type: "material", set });
/** Boxes in a row, made of something that is a field of their place. */
const boxes = (set: Set = {}, box: Set = {}): Shape =>
  formed(
    {
      row: ROW,
      box: { type: "box" },
      own: material(box),
      clones: { type: "clone-onto-sites" },
      place: { type: "position" },
      part: { type: "arithmetic", set: { do: "multiply", b: 0.25 } },
      it: material(set),
    },
    [
      "row.sites>clones.sites",
      Object.keys(box).length > 0 ? "box.shape>own.shape" : "box.shape>clones.shapes",
      ...(Object.keys(box).length > 0 ? ["own.shape>clones.shapes"] : []),
      "clones.clones>it.shape",
      "place.x>part.a",
      "part.value>it.roughness",
    ],
  );

describe("a material", () => {
  it("is attributes of the elements, any part by a field, and keeps the colour where it is told to", () => {
    const { sites } = boxes({ metalness: 1, paint: "as it is coloured" });
    expect([...(sites?.columns.roughness.lanes[0] ?? [])]).toEqual([0, 0.25, 0.5, 0.75, 1]);
    expect(new Set(sites?.columns.metalness.lanes[0])).toEqual(new Set([1]));
    expect(sites?.columns.color).toBeUndefined();
    const painted = boxes({ color: "#ff0000" }).sites?.columns.color.lanes.map((lane) => lane[3]);
    expect(painted).toEqual([1, 0, 0, 1]);
  });

  it.each(READY_NAMES)("comes ready as %s", (kind) => {
    const { mesh } = formed({ ball: { type: "sphere" }, it: material({ kind, rougher: -0.1 }) }, [
      "ball.shape>it.shape",
    ]);
    const { look } = READY_MATERIALS[kind] as { look: Partial<Record<LookName, number>> };
    for (const name of LOOK_NAMES) {
      if (["textures", "outline", "ink"].includes(name)) continue;
      const less = name === "roughness" ? 0.1 : 0;
      const wanted = Math.max(0, (look[name] ?? USUAL_LOOK[name]) - less);
      expect(mesh?.points.columns[name].lanes[0][5]).toBeCloseTo(wanted, 6);
    }
  });

  it("stays where it was when shapes are merged, and says that lines have none", () => {
    const { mesh } = formed(
      {
        ball: { type: "sphere" },
        brass: material({ kind: "brass" }),
        box: { type: "box" },
        it: { type: "merge" },
      },
      ["ball.shape>brass.shape", "brass.shape>it.shapes", "box.shape>it.shapes"],
    );
    const metal = mesh?.points.columns.metalness.lanes[0] ?? [];
    expect([metal[0], metal[metal.length - 1]]).toEqual([1, UNSAID]);
    const lines = graphOf({ line: { type: "line" }, it: material({}) }, ["line.shape>it.shape"]);
    expect(reportOf(lines, "it").problems[0].what).toContain("tube");
  });
});

describe("on the way to the stage", () => {
  const batchOf = (shape: Shape, before?: ReadonlyMap<Mesh, DrawBatch>) =>
    drawingOf(shape, ORDINARY, before).batches[0];

  it("goes copy by copy, nothing where nobody says any, and not again while it stays", () => {
    const shape = boxes({ metalness: 0.5 });
    const batch = batchOf(shape);
    expect([0, 2, 4].map((i) => lookOf(batch.looks, i, "roughness"))).toEqual([0, 0.5, 1]);
    expect(lookOf(batch.looks, 3, "metalness")).toBe(0.5);
    expect(batchOf(formed({ row: ROW, it: { type: "box" } }, [])).looks).toBeNull();
    const again = batchOf({ ...shape }, new Map([[batch.mesh, batch]]));
    expect([again.looks?.length, again.colors.length]).toEqual([0, 0]);
  });

  it("counts where the inner copy says it, else the outer", () => {
    const wall = formed(
      {
        row: ROW,
        box: { type: "box" },
        inner: { type: "clone-onto-sites" },
        shiny: material({ roughness: 0.1, paint: "as it is coloured" }),
        both: { type: "merge" },
        bare: { type: "clone-onto-sites" },
        ball: { type: "sphere" },
        two: { type: "row-sites", set: { count: 2 } },
        outer: { type: "clone-onto-sites" },
        it: material({ kind: "brass" }),
      },
      [
        "row.sites>inner.sites",
        "box.shape>inner.shapes",
        "inner.clones>shiny.shape",
        "shiny.shape>both.shapes",
        "row.sites>bare.sites",
        "ball.shape>bare.shapes",
        "bare.clones>both.shapes",
        "two.sites>outer.sites",
        "both.shape>outer.shapes",
        "outer.clones>it.shape",
      ],
    );
    const [inner, bare] = drawingOf(wall).batches;
    expect([inner, bare].map(({ looks }) => lookOf(looks, 0, "roughness"))).toEqual([
      expect.closeTo(0.1, 6),
      expect.closeTo(0.26, 6),
    ]);
    expect(lookOf(bare.looks, 1, "metalness")).toBe(1);
  });

  it("goes vertex by vertex for a mesh, and again only when it changes", () => {
    const made = (roughness: number) =>
      formed(
        {
          sheet: { type: "plane", set: { across: 3, deep: 3 } },
          it: material({ roughness, paint: "as it is coloured" }),
        },
        ["sheet.shape>it.shape"],
      ).mesh as Mesh;
    const mesh = made(0.25);
    const cut = triangulated(mesh);
    expect(lookOf(cut.geometry.looks, 7, "roughness")).toBe(0.25);
    expect(cut.geometry.looks?.length).toBe((cut.geometry.positions.length / 3) * LOOK_WIDTH);
    const other: Mesh = {
      ...mesh,
      points: {
        ...mesh.points,
        columns: { ...mesh.points.columns, roughness: made(0.75).points.columns.roughness },
      },
    };
    expect(isMoved(mesh, other)).toBe(true);
    const moving = new MovingMesh(mesh, cut, IN_MEMORY);
    expect(moving.moved(mesh).looks).toBeUndefined();
    expect(lookOf(moving.moved(other).looks, 3, "roughness")).toBe(0.75);
    moving.dispose();
    const { roughness: _none, ...bare } = mesh.points.columns;
    const columns = Object.fromEntries(
      Object.entries(bare).filter(([name]) => !LOOK_NAMES.includes(name as LookName)),
    );
    expect(isMoved(mesh, { ...mesh, points: { ...mesh.points, columns } })).toBe(false);
  });
});

describe("a line around", () => {
  it("is as wide and in the colour that a field says for each clone", () => {
    const { sites } = formed(
      {
        row: ROW,
        place: { type: "position" },
        hue: { type: "gradient", set: { low: 0, high: 4 } },
        it: { type: "line-around" },
      },
      ["row.sites>it.shape", "place.x>it.width", "place.x>hue.value", "hue.color>it.color"],
    );
    expect([...(sites?.columns.outline.lanes[0] ?? [])]).toEqual([0, 1, 2, 3, 4]);
    const inks = [...(sites?.columns.ink.lanes[0] ?? [])];
    expect(new Set(inks).size).toBe(5);
    for (const ink of inks) expect(ink).toBe(Math.fround(Math.round(ink)));
  });

  // IEC 61966-2-1: sRGB of linear 0.5 is 188, of 0.0025 is 8.
  it("packs colours into numbers that float32 holds", () => {
    expect(packedInk([1, 0.5, 0.0025])).toBe((255 * 256 + 188) * 256 + 8);
    expect(packedInk([9, -1, 1])).toBe((255 * 256 + 0) * 256 + 255);
  });
});

describe("as glTF", () => {
  const read = async (shape: Shape, copies: "instanced" | "baked") => {
    const bytes = await writeGlb(drawingOf(shape), { copies, name: "made of" });
    expect((await validateBytes(bytes)).issues.numErrors).toBe(0);
    const document = await new WebIO().registerExtensions(ALL_EXTENSIONS).readBinary(bytes);
    return document.getRoot();
  };
  const numbers = (made: Material) => [made.getRoughnessFactor(), made.getMetallicFactor()];

  it.each(["instanced", "baked"] as const)(
    "is a material for each thing that copies are made of, %s",
    async (copies) => {
      const root = await read(boxes({ metalness: 1 }), copies);
      const found = root.listMaterials().map(numbers).sort();
      expect(found).toEqual([0, 0.25, 0.5, 0.75, 1].map((roughness) => [roughness, 1]));
    },
  );

  it("has the extensions with their numbers, and none for what is plain", async () => {
    const kinds = ["wet leaf", "frosted glass", "glow", "flat ink"] as const;
    const shape = formed(
      {
        ...Object.fromEntries(
          kinds.flatMap((kind, i) => [
            [`ball${i}`, { type: "sphere" } as NodeSpec],
            [`made${i}`, material({ kind })],
          ]),
        ),
        plain: { type: "box" },
        it: { type: "merge" },
      },
      [
        ...kinds.flatMap((_, i) => [`ball${i}.shape>made${i}.shape`, `made${i}.shape>it.shapes`]),
        "plain.shape>it.shapes",
      ],
    );
    const materials = (await read(shape, "instanced")).listMaterials();
    expect(materials).toHaveLength(5);
    const of = <T>(name: string): T[] =>
      materials.flatMap((made) => (made.getExtension(name) ? [made.getExtension(name) as T] : []));
    expect(of<Clearcoat>("KHR_materials_clearcoat").map((e) => e.getClearcoatFactor())).toEqual([
      expect.closeTo(0.95, 1),
    ]);
    expect(of<Transmission>("KHR_materials_transmission").map((e) => e.getTransmissionFactor())).toEqual([
      expect.closeTo(0.95, 1),
    ]);
    expect(
      of<EmissiveStrength>("KHR_materials_emissive_strength").map((e) => e.getEmissiveStrength()),
    ).toEqual([expect.closeTo(1.6, 1)]);
    expect(of("KHR_materials_unlit")).toHaveLength(1);
  });

  it("has index of refraction, anisotropy, volume and specular, which come back", async () => {
    const shape = formed(
      {
        ball: { type: "box" },
        it: material({
          kind: "as set here",
          refraction: 2.4,
          anisotropy: 0.75,
          bump: 0.1,
          transmission: 1,
          thickness: 0.5,
          attenuation: 2.25,
          specular: 0.25,
        }),
      },
      ["ball.shape>it.shape"],
    );
    const [made] = (await read(shape, "baked")).listMaterials();
    expect(made.getExtension<IOR>("KHR_materials_ior")?.getIOR()).toBeCloseTo(2.4, 1);
    expect(made.getExtension<Anisotropy>("KHR_materials_anisotropy")?.getAnisotropyStrength()).toBe(0.75);
    const bytes = await writeGlb(drawingOf(shape), { copies: "baked", name: "made of" });
    const columns = ((await readGlb(bytes)).shape.mesh as Mesh).points.columns;
    const first = (name: LookName) => columns[name].lanes[0][0];
    expect([first("refraction"), first("anisotropy"), first("bump")]).toEqual([
      expect.closeTo(2.4, 1),
      0.75,
      USUAL_LOOK.bump,
    ]);
    expect([first("thickness"), first("attenuation"), first("specular")]).toEqual([0.5, 2.25, 0.25]);
  });

  it("comes back from a file as it went into it, and as glTF 2.0 says where a file is silent", async () => {
    const balls = ["brass", "beetle shell", "frosted glass", "moss"] as const;
    const shape = formed(
      {
        ...Object.fromEntries(
          balls.flatMap((kind, i) => [
            [`ball${i}`, { type: "box", set: { size: [i + 1, 1, 1] } } as NodeSpec],
            [`made${i}`, material({ kind })],
          ]),
        ),
        it: { type: "merge" },
      },
      balls.flatMap((_, i) => [`ball${i}.shape>made${i}.shape`, `made${i}.shape>it.shapes`]),
    );
    const bytes = await writeGlb(drawingOf(shape), { copies: "baked", name: "made of" });
    const { mesh } = (await readGlb(bytes)).shape;
    const { position } = (mesh as Mesh).points.columns;
    for (const [i, kind] of balls.entries()) {
      const widest = position.lanes[0].findIndex((x) => Math.abs(x - (i + 1) / 2) < 1e-6);
      const look: Partial<Record<LookName, number>> = READY_MATERIALS[kind].look;
      for (const name of ["roughness", "metalness", "clearcoat", "transmission", "iridescence"] as const)
        expect((mesh as Mesh).points.columns[name].lanes[0][widest]).toBeCloseTo(
          look[name] ?? USUAL_LOOK[name],
          1,
        );
    }
    // Without factors a material is a rough metal, without a material nothing is said (glTF 2.0 §3.9.2, §3.7.2.1).
    const silent = new Document();
    const buffer = silent.createBuffer();
    const corners = silent.createAccessor().setType("VEC3").setBuffer(buffer);
    corners.setArray(Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0));
    const triangle = () => silent.createPrimitive().setAttribute("POSITION", corners);
    const scene = silent.createScene();
    for (const [name, primitive] of [
      ["made", triangle().setMaterial(silent.createMaterial())],
      ["bare", triangle()],
    ] as const)
      scene.addChild(silent.createNode(name).setMesh(silent.createMesh(name).addPrimitive(primitive)));
    const { parts } = await readGlb(await new WebIO().writeBinary(silent));
    expect([...(parts[0].shape.mesh as Mesh).points.columns.metalness.lanes[0]]).toEqual([1, 1, 1]);
    expect((parts[1].shape.mesh as Mesh).points.columns.metalness).toBeUndefined();
  });
});
