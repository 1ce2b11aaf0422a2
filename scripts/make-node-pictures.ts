/**
 * A small picture of what each node does, made by running it on a small example: src/studio/graph/cards/node-pictures.json. Fields
 * are drawn over a row of elements, shapes as seen from above the corner. Written by `./run docs`.
 */
import { writeFileSync } from "node:fs";
import { parseAddress } from "../src/core/document/links";
import { Evaluator } from "../src/core/evaluate/evaluator";
import { loadLibraries } from "../src/core/evaluate/libraries";
import { isValue, type Value } from "../src/core/fields/expression";
import { runValues } from "../src/core/fields/run";
import type { Mesh } from "../src/core/geometry/mesh";
import type { Shape } from "../src/core/geometry/shape";
import { THICKNESS } from "../src/core/geometry/thickness";
import { encodeSrgb } from "../src/core/maths/color";
import { catalogue } from "../src/core/nodes/catalogue";
import type { AnyNode } from "../src/core/nodes/define";
import { exampleOf, IT } from "../src/studio/graph/adder/node-example";

/** A stroke or a filled form: `path` in a box of 56 × 50, and its colour when it is not the accent's. */
type Mark = readonly ["line" | "fill" | "faint", string, string?];
const [WIDTH, HEIGHT, MARGIN] = [56, 50, 6];
const SAMPLES = 24;
const MOST_FACES = 140;
/** Half the diagonal of the square that stands for a clone, in the box. */
const SQUARE = 2.6;

type Point = readonly [number, number];
/** From above the corner: x to the lower right, z to the lower left, y up. */
const project = (x: number, y: number, z: number): Point => [(x - z) * 0.87, (x + z) * 0.5 - y];
const text = (n: number) => String(Math.round(n * 10) / 10);
const pathOf = (points: readonly Point[], closed = false) =>
  `M${points.map(([x, y]) => `${text(x)} ${text(y)}`).join("L")}${closed ? "Z" : ""}`;

function hex(color: readonly number[]): string {
  return `#${color
    .slice(0, 3)
    .map((c) =>
      Math.round(255 * encodeSrgb(Math.min(1, Math.max(0, c))))
        .toString(16)
        .padStart(2, "0"),
    )
    .join("")}`;
}

/** Marks before they are brought into the box: places in the example, or a place and offsets in the box. */
interface Loose {
  readonly kind: Mark[0];
  readonly points: readonly Point[];
  readonly around?: readonly Point[];
  readonly closed: boolean;
  readonly color?: string;
}

function facesOf({ points, faceStarts, cornerPoint, faces }: Mesh): Loose[] {
  const [x, y, z] = points.columns.position.lanes;
  const step = Math.max(1, Math.ceil(faces.count / MOST_FACES));
  return Array.from({ length: Math.ceil(faces.count / step) }, (_, i) => {
    const face = i * step;
    const corners = [...cornerPoint.slice(faceStarts[face], faceStarts[face + 1])];
    return { kind: "line", points: corners.map((p) => project(x[p], y[p], z[p])), closed: true } as const;
  });
}

function marksOfShape({ mesh, curves, sites }: Shape): Loose[] {
  const marks: Loose[] = mesh ? facesOf(mesh) : [];
  if (curves) {
    const [x, y, z] = curves.points.columns.position.lanes;
    for (let c = 0; c < curves.curves.count; c++) {
      const ids = Array.from(
        { length: curves.curveStarts[c + 1] - curves.curveStarts[c] },
        (_, i) => curves.curveStarts[c] + i,
      );
      const points = ids.map((p) => project(x[p], y[p], z[p]));
      const thickness = curves.points.columns[THICKNESS]?.lanes[0];
      marks.push(
        thickness
          ? { kind: "fill", points: band(points, (i) => thickness[ids[i]]), closed: true }
          : { kind: "line", points, closed: curves.curves.columns.closed.lanes[0][c] === 1 },
      );
    }
  }
  if (!sites) return marks;
  const { position, rotation, scale, color } = sites.columns;
  for (let i = 0; i < sites.count; i++) {
    const [x, y, z] = position.lanes.map((lane) => lane[i]);
    // Many are smaller, so that they are told apart.
    const size = SQUARE * Math.min(1, Math.sqrt(60 / sites.count)) * Math.abs(scale?.lanes[0][i] ?? 1);
    // A square on the ground, turned as the clone is about its upright axis.
    const turn = 2 * Math.atan2(rotation?.lanes[1][i] ?? 0, rotation?.lanes[3][i] ?? 1);
    const around = [0, 1, 2, 3].map((k) => {
      const at = turn + (k * Math.PI) / 2 + Math.PI / 4;
      return project(size * Math.cos(at), 0, -size * Math.sin(at));
    });
    const own = color ? hex(color.lanes.map((lane) => lane[i])) : undefined;
    marks.push({
      kind: "fill",
      points: [project(x, y, z)],
      around,
      closed: true,
      ...(own ? { color: own } : {}),
    });
  }
  return marks;
}

/** There along one side of a line, and back along the other. */
function band(points: readonly Point[], across: (i: number) => number): Point[] {
  const side = (i: number, sign: number): Point => {
    const [before, after] = [points[Math.max(0, i - 1)], points[Math.min(points.length - 1, i + 1)]];
    const [dx, dy] = [after[0] - before[0], after[1] - before[1]];
    const half = (sign * across(i)) / 2 / (Math.hypot(dx, dy) || 1);
    return [points[i][0] - dy * half, points[i][1] + dx * half];
  };
  return [...points.map((_, i) => side(i, 1)), ...points.map((_, i) => side(points.length - 1 - i, -1))];
}

/** Every form scaled into the box, one path for all of a kind and colour. */
function inBox(marks: readonly Loose[]): Mark[] {
  const all = marks.flatMap(({ points }) => points);
  if (all.length === 0) return [];
  const [low, high] = [Math.min, Math.max].map((pick) => [0, 1].map((a) => pick(...all.map((p) => p[a]))));
  const factor = Math.min(
    (WIDTH - 2 * MARGIN) / (high[0] - low[0] || 1),
    (HEIGHT - 2 * MARGIN) / (high[1] - low[1] || 1),
    40,
  );
  const paths = new Map<string, { mark: Loose; d: string }>();
  for (const mark of marks) {
    const placed = mark.points.map(
      ([x, y]): Point => [
        WIDTH / 2 + (x - (low[0] + high[0]) / 2) * factor,
        HEIGHT / 2 + (y - (low[1] + high[1]) / 2) * factor,
      ],
    );
    const points = mark.around?.map(([x, y]): Point => [placed[0][0] + x, placed[0][1] + y]) ?? placed;
    const key = `${mark.kind} ${mark.color ?? ""}`;
    const before = paths.get(key);
    paths.set(key, { mark, d: (before?.d ?? "") + pathOf(points, mark.closed) });
  }
  return [...paths.values()].map(({ mark: { kind, color }, d }) => (color ? [kind, d, color] : [kind, d]));
}

/** A curve a component over the row, or a strip of colours. */
function marksOfField(lanes: readonly ArrayLike<number>[], kind: string): Mark[] {
  const x = (i: number) => MARGIN + (i * (WIDTH - 2 * MARGIN)) / (SAMPLES - 1);
  if (kind === "color" && new Set(Array.from(lanes[0])).size === 1) return [];
  if (kind === "color")
    return Array.from({ length: SAMPLES }, (_, i): Mark => {
      const left = MARGIN + (i * (WIDTH - 2 * MARGIN)) / SAMPLES;
      const path = `M${text(left)} 14h${text((WIDTH - 2 * MARGIN) / SAMPLES + 0.3)}v22H${text(left)}Z`;
      return ["fill", path, hex(lanes.slice(0, 3).map((lane) => lane[i]))];
    });
  const values = lanes.slice(0, 3).flatMap((lane) => Array.from(lane));
  // The same everywhere is no picture.
  if (lanes.every((lane) => Array.from(lane).every((v) => v === lane[0]))) return [];
  const [low, high] = [Math.min(...values), Math.max(...values)];
  const y = (v: number) =>
    high > low ? HEIGHT - MARGIN - ((v - low) / (high - low)) * (HEIGHT - 2 * MARGIN) : HEIGHT / 2;
  return [
    ["faint", `M${MARGIN} ${HEIGHT - MARGIN}H${WIDTH - MARGIN}`],
    ...lanes
      .slice(0, 3)
      .map((lane): Mark => ["line", pathOf(Array.from(lane, (v, i): Point => [x(i), y(v)]))]),
  ];
}

export function pictureOf(node: AnyNode): Mark[] {
  const [[port, output]] = Object.entries<{ kind: string }>(node.outputs);
  const document = exampleOf(node);
  const evaluator = new Evaluator();
  const outputAt = (frame: number): unknown =>
    evaluator.evaluate(document, frame, { target: IT }).outputs?.[port];
  const carried = outputAt(0);
  if (carried === undefined) return [];
  // What only works together with others is drawn by what comes of it.
  if (output.kind === "births" || output.kind === "forces")
    return inBox(marksOfShape(evaluator.evaluate(document, 0).shape ?? {}));
  // Cameras and lights change how all is seen, not what is there.
  if (["camera", "light", "finish"].includes(output.kind)) return [];
  if (output.kind === "shape") {
    const after = marksOfShape(carried as Shape);
    if (node.family !== "adjust") return inBox(after);
    // What is changed is drawn over what it was; what does not show has no picture.
    const link = document.graph.links.find(({ to }) => parseAddress(to).node === IT);
    const from = parseAddress(link?.from as string);
    const before = evaluator.evaluate(document, 0, { target: from.node }).outputs?.[from.port];
    const faint = marksOfShape(before as Shape).map((mark): Loose => ({ ...mark, kind: "faint" }));
    const plain = (marks: readonly Loose[]) => JSON.stringify(marks.map(({ kind: _kind, ...rest }) => rest));
    return plain(faint) === plain(after) ? [] : inBox([...faint, ...after]);
  }
  const valuesOf = (value: unknown) => (isValue(value) ? [value] : (value as readonly Value[]));
  if (node.type === "clock") {
    const plain = Array.from(
      { length: SAMPLES },
      (_, i) => valuesOf(outputAt(i * 4))[0].step.data?.value as number,
    );
    return marksOfField([plain], output.kind);
  }
  const row = Float32Array.from({ length: SAMPLES }, (_, i) => -1.5 + (3 * i) / (SAMPLES - 1));
  const none = new Float32Array(SAMPLES);
  const id = Int32Array.from({ length: SAMPLES }, (_, i) => i);
  const columns = {
    position: { kind: "vector", lanes: [row, none, none] },
    id: { kind: "integer", lanes: [id] },
  } as const;
  return marksOfField(runValues(valuesOf(carried), { count: SAMPLES, columns }).lanes, output.kind);
}

export async function picturesText(): Promise<string> {
  const nodes = [...catalogue.values()];
  await loadLibraries(nodes);
  return `${JSON.stringify(Object.fromEntries(nodes.map((node) => [node.type, pictureOf(node)])), null, 1)}\n`;
}

if (process.argv[1]?.endsWith("make-node-pictures.ts"))
  void picturesText().then((text) => writeFileSync("src/studio/graph/cards/node-pictures.json", text));
