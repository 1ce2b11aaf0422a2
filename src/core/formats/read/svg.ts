/**
 * SVG 1.1 as outlines: paths and basic shapes with their transforms, colours and groups. Scripts are never run and nothing is fetched:
 * what is linked, and whatever else is no outline, is left out by name. One unit is a hundred of the drawing's.
 */
import { DOMParser, type Element as SvgElement, type Node as SvgNode } from "@xmldom/xmldom";
import svgPath from "svgpath";
import { tick } from "../../cancelling";
import { makeColumn, withColumns } from "../../geometry/column";
import { type Curves, makeCurves } from "../../geometry/curves";
import { withoutRepeats } from "../../geometry/without-repeats";
import { bezierAt } from "../../maths/bezier";
import type { Rgba } from "../../maths/color";
import { FormatError } from "../format-error";
import type { ShapeAsset } from "./asset";
import { AT_FIRST, colorOf, colorOfText, type Look, StyleSheets } from "./svg-look";
import { woundHoles } from "./wound-holes";

/** User units of the drawing in a unit. */
const UNITS = 100;
/** Pieces of every bend. */
const BEND = 24;
const MOST_BYTES = 32 * 2 ** 20;
/** How often elements may be used within each other, and how many there may be when all are. */
const DEEPEST = 32;
const MOST_ELEMENTS = 100_000;
const MOST_POINTS = 4_000_000;

interface Outline {
  readonly points: readonly number[];
  readonly closed: boolean;
  readonly color: Rgba;
}

/** @throws FormatError */
export function readSvg(bytes: Uint8Array): ShapeAsset {
  if (bytes.length > MOST_BYTES)
    throw new FormatError("this drawing is larger than 32 MB; make it simpler first.");
  const text = new TextDecoder().decode(bytes);
  // Entities may stand for each other over and over; no drawing needs its own.
  if (/<!ENTITY/i.test(text))
    throw new FormatError("drawings with entities of their own are not read. Save it anew as plain SVG.");
  const faults: string[] = [];
  let root: SvgElement | null = null;
  try {
    root = new DOMParser({
      onError: (level, message) => level !== "warning" && faults.push(message),
    }).parseFromString(text, "image/svg+xml").documentElement;
  } catch (error) {
    faults.push((error as Error).message);
  }
  if (!root || nameOf(root) !== "svg")
    throw new FormatError(`this is no SVG drawing${faults[0] ? `: ${faults[0].split("\n")[0]}` : "."}`);
  const walk = new Walk(root);
  walk.children(root, AT_FIRST, walk.viewport(root), 0);
  const all = walk.parts.flatMap(({ outlines }) => outlines);
  if (all.length === 0)
    throw new FormatError(
      `there are no outlines in this drawing${walk.left.size > 0 ? `, only ${[...walk.left].join(", ")}` : ""}.`,
    );
  const parts = walk.parts.filter(({ outlines }) => outlines.length > 0);
  return {
    kind: "shape",
    shape: { curves: curvesOf(parts) },
    parts:
      parts.length < 2 ? [] : parts.map((part) => ({ name: part.name, shape: { curves: curvesOf([part]) } })),
    ...(walk.left.size > 0
      ? {
          notes: [
            `Not read in the drawing: ${[...walk.left].sort().join(", ")}. Turn it into paths to bring it in.`,
          ],
        }
      : {}),
  };
}

interface Part {
  readonly name: string;
  readonly outlines: Outline[];
}

/** a b c d e f: x′ = a x + c y + e, y′ = b x + d y + f. */
type Matrix = readonly [number, number, number, number, number, number];

/** Elements without outlines of their own that say nothing that would be missed. */
const SILENT: ReadonlySet<string> = new Set([
  "defs",
  "symbol",
  "title",
  "desc",
  "metadata",
  "namedview",
  "style",
  "linearGradient",
  "radialGradient",
]);
const GROUPS: ReadonlySet<string> = new Set(["g", "a", "svg", "switch"]);

class Walk {
  readonly parts: Part[] = [];
  /** Names of what was left out. */
  readonly left = new Set<string>();
  private readonly byId = new Map<string, SvgElement>();
  private count = 0;
  private points = 0;

  private readonly sheets: StyleSheets;

  constructor(root: SvgElement) {
    const styles: string[] = [];
    const stack: SvgElement[] = [root];
    for (let element = stack.pop(); element; element = stack.pop()) {
      const id = element.getAttribute("id");
      if (id && !this.byId.has(id)) this.byId.set(id, element);
      if (nameOf(element) === "style") styles.unshift(element.textContent ?? "");
      stack.push(...elementsIn(element));
    }
    this.sheets = new StyleSheets(styles);
  }

  /** The colours of a gradient, or of the one that it takes them from. */
  private stopsOf(id: string, depth: number): readonly Rgba[] {
    const gradient = this.byId.get(id);
    if (!gradient || depth > DEEPEST) return [];
    const own = elementsIn(gradient).filter((element) => nameOf(element) === "stop");
    const href = gradient.getAttribute("href") ?? gradient.getAttribute("xlink:href") ?? "";
    if (own.length === 0 && href.startsWith("#")) return this.stopsOf(href.slice(1), depth + 1);
    return own.flatMap((stop) => {
      const color = colorOfText(this.sheets.styleOf(stop, "stop-color") ?? "black");
      const opacity = Number(this.sheets.styleOf(stop, "stop-opacity") ?? 1);
      return color
        ? [[color[0], color[1], color[2], color[3] * (Number.isFinite(opacity) ? opacity : 1)] as Rgba]
        : [];
    });
  }

  /** Of the drawing's place: its middle comes to the middle, y points up. */
  viewport(root: SvgElement): Matrix {
    const box = numbers(root.getAttribute("viewBox") ?? "");
    const [x, y, width, height] =
      box.length === 4 && box[2] > 0 && box[3] > 0
        ? box
        : [0, 0, lengthOf(root.getAttribute("width")), lengthOf(root.getAttribute("height"))];
    const s = 1 / UNITS;
    return [s, 0, 0, -s, -(x + width / 2) * s, (y + height / 2) * s];
  }

  children(parent: SvgElement, look: Look, matrix: Matrix, depth: number): void {
    for (const element of elementsIn(parent)) this.element(element, look, matrix, depth);
  }

  private element(element: SvgElement, before: Look, outer: Matrix, depth: number): void {
    tick(256);
    if (depth > DEEPEST || ++this.count > MOST_ELEMENTS)
      throw new FormatError(
        "this drawing uses parts of itself too often, or has too many; make it simpler first.",
      );
    const name = nameOf(element);
    if (SILENT.has(name)) return;
    const look = this.sheets.lookOf(element, before);
    if (this.sheets.styleOf(element, "display") === "none") return;
    const matrix = times(outer, matrixOf(element.getAttribute("transform")));
    // Layers, or what else stands at the top, are parts.
    if (depth === 0) this.parts.push({ name: labelOf(element, this.parts.length), outlines: [] });
    if (GROUPS.has(name)) this.children(element, look, matrix, depth + 1);
    else if (name === "use") this.use(element, look, matrix, depth);
    else {
      const d = pathOf(element, name);
      if (d === null) this.left.add(name);
      else this.add(d, look, matrix);
    }
  }

  private use(element: SvgElement, look: Look, matrix: Matrix, depth: number): void {
    const href = element.getAttribute("href") ?? element.getAttribute("xlink:href") ?? "";
    const target = href.startsWith("#") ? this.byId.get(href.slice(1)) : undefined;
    if (!target) {
      this.left.add(href.startsWith("#") ? `“${href}”, which is not in it` : "links to other files");
      return;
    }
    const moved = times(matrix, [
      1,
      0,
      0,
      1,
      lengthOf(element.getAttribute("x")),
      lengthOf(element.getAttribute("y")),
    ]);
    if (nameOf(target) === "symbol")
      this.children(target, this.sheets.lookOf(target, look), moved, depth + 1);
    else this.element(target, look, moved, depth + 1);
  }

  private add(d: string, look: Look, matrix: Matrix): void {
    const color = colorOf(look, (id) => this.stopsOf(id, 0));
    const drawn = subpaths(d, matrix);
    for (const { points, closed } of look["fill-rule"] === "evenodd" ? woundHoles(drawn) : drawn) {
      this.points += points.length / 2;
      if (this.points > MOST_POINTS) throw new FormatError("this drawing has more points than can be kept.");
      this.parts[this.parts.length - 1].outlines.push({ points, closed, color });
    }
  }
}

const nameOf = (element: SvgElement): string => element.localName ?? element.nodeName;

function elementsIn(parent: SvgElement): SvgElement[] {
  const found: SvgElement[] = [];
  for (let node: SvgNode | null = parent.firstChild; node; node = node.nextSibling)
    if (node.nodeType === 1) found.push(node as SvgElement);
  return found;
}

/** Programs that draw write what a layer is called as a label in a name space of their own. */
const labelOf = (element: SvgElement, number: number): string =>
  Array.from(element.attributes).find(({ name }) => name.endsWith(":label"))?.value ||
  element.getAttribute("id") ||
  `${nameOf(element)} ${number + 1}`;

const numbers = (text: string): number[] =>
  (text.match(/[-+]?(?:\d*\.)?\d+(?:e[-+]?\d+)?/gi) ?? []).map(Number);

/** Pixels of a CSS unit (CSS Values and Units Level 3, § 6.2). */
const PIXELS: Readonly<Record<string, number>> = {
  "": 1,
  px: 1,
  in: 96,
  cm: 96 / 2.54,
  mm: 96 / 25.4,
  pt: 96 / 72,
  pc: 16,
};

function lengthOf(text: string | null): number {
  const [, number, unit] = /^\s*([-+\d.e]+)\s*([a-z%]*)\s*$/i.exec(text ?? "") ?? [];
  const value = Number(number) * (PIXELS[unit?.toLowerCase()] ?? Number.NaN);
  return Number.isFinite(value) ? value : 0;
}

/** A basic shape as path data (SVG 1.1, § 9); null for what is no shape. */
function pathOf(element: SvgElement, name: string): string | null {
  const get = (attribute: string) => lengthOf(element.getAttribute(attribute));
  switch (name) {
    case "path":
      return element.getAttribute("d") ?? "";
    case "line":
      return `M${get("x1")} ${get("y1")}L${get("x2")} ${get("y2")}`;
    case "polyline":
    case "polygon": {
      const points = numbers(element.getAttribute("points") ?? "");
      const pairs = points.slice(0, points.length - (points.length % 2));
      return pairs.length < 4 ? "" : `M${pairs.join(" ")}${name === "polygon" ? "Z" : ""}`;
    }
    case "circle":
      return ellipse(get("cx"), get("cy"), get("r"), get("r"));
    case "ellipse":
      return ellipse(get("cx"), get("cy"), get("rx"), get("ry"));
    case "rect":
      return rectangle(get("x"), get("y"), get("width"), get("height"), element);
    default:
      return null;
  }
}

const ellipse = (cx: number, cy: number, rx: number, ry: number): string =>
  rx > 0 && ry > 0
    ? `M${cx + rx} ${cy}A${rx} ${ry} 0 0 1 ${cx - rx} ${cy}A${rx} ${ry} 0 0 1 ${cx + rx} ${cy}Z`
    : "";

function rectangle(x: number, y: number, width: number, height: number, element: SvgElement): string {
  if (!(width > 0 && height > 0)) return "";
  const [own, other] = [element.getAttribute("rx"), element.getAttribute("ry")];
  const rx = Math.min(width / 2, Math.max(0, lengthOf(own ?? other)));
  const ry = Math.min(height / 2, Math.max(0, lengthOf(other ?? own)));
  if (rx === 0 || ry === 0) return `M${x} ${y}h${width}v${height}h${-width}Z`;
  const [w, h] = [width - 2 * rx, height - 2 * ry];
  const corner = (dx: number, dy: number) => `a${rx} ${ry} 0 0 1 ${dx} ${dy}`;
  return `M${x + rx} ${y}h${w}${corner(rx, ry)}v${h}${corner(-rx, ry)}h${-w}${corner(-rx, -ry)}v${-h}${corner(rx, -ry)}Z`;
}

/** A transform attribute as a matrix; svgpath reads the list of them. */
function matrixOf(text: string | null): Matrix {
  if (!text) return [1, 0, 0, 1, 0, 0];
  const at: number[] = [];
  const corners = svgPath("M0 0L1 0L0 1").transform(text);
  corners.iterate((segment) => {
    at.push(Number(segment[1]), Number(segment[2]));
  });
  const [e, f, x1, y1, x2, y2] = at;
  return [x1 - e, y1 - f, x2 - e, y2 - f, e, f];
}

const times = (m: Matrix, n: Matrix): Matrix => [
  m[0] * n[0] + m[2] * n[1],
  m[1] * n[0] + m[3] * n[1],
  m[0] * n[2] + m[2] * n[3],
  m[1] * n[2] + m[3] * n[3],
  m[0] * n[4] + m[2] * n[5] + m[4],
  m[1] * n[4] + m[3] * n[5] + m[5],
];

/** What a path draws, each stretch without a jump by itself, in the space of the matrix. What comes after a fault in it is not drawn. */
function subpaths(d: string, [a, b, c, e, x0, y0]: Matrix): { points: number[]; closed: boolean }[] {
  const found: { points: number[]; closed: boolean }[] = [];
  let now: { points: number[]; closed: boolean } | null = null;
  const begin = (x: number, y: number) => {
    now = { points: [x, y], closed: false };
    found.push(now);
    return now;
  };
  svgPath(d)
    .abs()
    .unshort()
    .unarc()
    .iterate((segment, _index, x, y) => {
      const [to, ...values] = segment as [string, ...number[]];
      if (to === "M") {
        begin(values[0], values[1]);
        return;
      }
      if (to === "Z" || to === "z") {
        if (now) now.closed = true;
        now = null;
        return;
      }
      const path = now ?? begin(x, y);
      if (to === "C" || to === "Q")
        for (let i = 1; i <= BEND; i++) path.points.push(...bezierAt([x, y, ...values], i / BEND));
      else if (to === "H") path.points.push(values[0], y);
      else if (to === "V") path.points.push(x, values[0]);
      else path.points.push(...values.slice(-2));
    });
  return found.flatMap(({ points, closed }) => {
    const own = withoutRepeats(points, closed);
    const placed = own.map((_, i) =>
      i % 2 === 0 ? a * own[i] + c * own[i + 1] + x0 : b * own[i - 1] + e * own[i] + y0,
    );
    return placed.length >= 4 && placed.every(Number.isFinite) ? [{ points: placed, closed }] : [];
  });
}

/** Curves of all outlines, their points in their colours; curves have the number of their `part`. */
function curvesOf(parts: readonly Part[]): Curves {
  const outlines = parts.flatMap((part) => part.outlines);
  const starts = new Int32Array(outlines.length + 1);
  for (const [i, { points }] of outlines.entries()) starts[i + 1] = starts[i] + points.length / 2;
  const total = starts[outlines.length];
  const position: [Float32Array, Float32Array, Float32Array] = [
    new Float32Array(total),
    new Float32Array(total),
    new Float32Array(total),
  ];
  const color = [0, 1, 2, 3].map(() => new Float32Array(total));
  for (const [k, { points, color: own }] of outlines.entries())
    for (let i = 0; i < points.length / 2; i++) {
      position[0][starts[k] + i] = points[i * 2];
      position[1][starts[k] + i] = points[i * 2 + 1];
      for (let l = 0; l < 4; l++) color[l][starts[k] + i] = own[l];
    }
  const closed = Int32Array.from(outlines, (outline) => (outline.closed ? 1 : 0));
  const part = Float32Array.from(parts.flatMap(({ outlines: list }, i) => list.map(() => i)));
  const curves = makeCurves({ position, curveStarts: starts, closed });
  return {
    ...curves,
    points: withColumns(curves.points, { color: makeColumn("color", color) }),
    curves: withColumns(curves.curves, { part: makeColumn("number", [part]) }),
  };
}
