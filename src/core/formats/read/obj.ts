/**
 * Wavefront OBJ through three's loader: polygons become triangles, objects and groups are kept apart as parts,
 * lines become curves, vertex colours (taken as sRGB, common practice, no source) and texture coordinates are kept.
 */
import type { BufferGeometry, Mesh as LoadedMesh } from "three";
import { OBJLoader } from "three/examples/jsm/loaders/OBJLoader.js";
import { tick } from "../../cancelling";
import type { Curves } from "../../geometry/curves";
import { areaVector } from "../../geometry/mesh";
import { cutPolygon } from "../../geometry/triangles";
import { FormatError } from "../format-error";
import type { ShapeAsset } from "./asset";
import { chainSegments } from "./chain";
import { type LooseTriangles, weldTriangles } from "./weld";

/** Lines the loader understands; others (curves, free-form surfaces) are left out rather than guessed at. */
const KNOWN = /^\s*(v|vt|vn|f|o|g|usemtl)\s/;

/** @throws FormatError naming the line where the text goes wrong, when it can be told */
export function readObj(bytes: Uint8Array): ShapeAsset {
  const text = new TextDecoder().decode(bytes).replace(/\\\r?\n/g, " ");
  checkLines(text);
  const lines = withTriangles(text.split("\n").filter((line) => KNOWN.test(line)));
  const keepNormals = lines.some((line) => /^\s*vn\s/.test(line));
  const found: { name: string; geometry: BufferGeometry }[] = [];
  new OBJLoader().parse(lines.join("\n")).traverse((child) => {
    const { isMesh, geometry, name } = child as LoadedMesh;
    if (isMesh && geometry.attributes.position?.count) found.push({ name, geometry });
  });
  const weld = (geometries: readonly BufferGeometry[]) => weldTriangles(joinParts(geometries, keepNormals));
  const curves = linesOf(text);
  return {
    kind: "shape",
    shape: {
      // Objects and groups share one list of vertices, so the whole is welded together.
      ...(found.length > 0 ? { mesh: weld(found.map((part) => part.geometry)) } : {}),
      ...(curves ? { curves } : {}),
    },
    parts:
      found.length < 2
        ? []
        : found.map(({ name, geometry }, i) => ({
            name: name || `part ${i + 1}`,
            shape: { mesh: weld([geometry]) },
          })),
  };
}

/** The loader fans faces out from their first corner, which is wrong where they are concave: they reach it as triangles. */
function withTriangles(lines: readonly string[]): string[] {
  const lanes: number[][] = [[], [], []];
  return lines.flatMap((line) => {
    const [word, ...rest] = line.trim().split(/\s+/);
    if (word === "v") for (let a = 0; a < 3; a++) lanes[a].push(Number(rest[a]));
    if (word !== "f" || rest.length <= 3) return [line];
    const count = lanes[0].length;
    const points = rest.map((corner) => {
      const index = Number(corner.split("/")[0]);
      return index < 0 ? count + index : index - 1;
    });
    const cut = cutPolygon(points, lanes, areaVector(points, 0, points.length, lanes));
    const faces: string[] = [];
    for (let t = 0; t < cut.length; t += 3)
      faces.push(`f ${rest[cut[t]]} ${rest[cut[t + 1]]} ${rest[cut[t + 2]]}`);
    return faces;
  });
}

/** The `l` elements. Their corners have been checked. */
function linesOf(text: string): Curves | undefined {
  if (!/^\s*l\s/m.test(text)) return undefined;
  const vertices: number[][] = [];
  const ends: number[] = [];
  for (const line of text.split("\n")) {
    const words = line.trim().split(/\s+/);
    if (words[0] === "v") vertices.push(words.slice(1, 4).map(Number));
    if (words[0] !== "l") continue;
    const corners = words.slice(1).map((word) => {
      const index = Number(word.split("/")[0]);
      return vertices[index < 0 ? vertices.length + index : index - 1];
    });
    for (let i = 0; i + 1 < corners.length; i++) ends.push(...corners[i], ...corners[i + 1]);
  }
  return chainSegments(ends);
}

/** The loader works out flat normals where a file has none; those are left to the crease angle instead. */
function joinParts(parts: readonly BufferGeometry[], keepNormals: boolean): LooseTriangles {
  const joined = (name: string, lanes: number, fill: number, convert = (v: number, _lane: number) => v) => {
    if (!parts.some((part) => part.attributes[name])) return undefined;
    const values: number[] = [];
    for (const { attributes } of parts) {
      const from = attributes[name];
      for (let i = 0; i < attributes.position.count; i++) {
        for (let l = 0; l < lanes; l++) {
          const stored = from && l < from.itemSize;
          values.push(stored ? convert(from.array[i * from.itemSize + l], l) : fill);
        }
      }
    }
    return values;
  };
  return {
    position: joined("position", 3, 0) ?? [],
    normal: keepNormals ? joined("normal", 3, 0) : undefined,
    // OBJ counts v from the bottom, glTF and the core from the top.
    uv: joined("uv", 2, 0, (v, lane) => (lane === 1 ? 1 - v : v)),
    color: joined("color", 4, 1),
  };
}

const NUMBER = /^[-+]?(\d+\.?\d*|\.\d+)([eE][-+]?\d+)?$/;

/** How many of each there are so far. */
interface Known {
  vertices: number;
  uvs: number;
  normals: number;
}

/** The loader accepts nonsense silently; what it uses is checked here so that the message has a line. */
function checkLines(text: string): void {
  const known: Known = { vertices: 0, uvs: 0, normals: 0 };
  let elements = 0;
  let at = 0;
  for (const line of text.split("\n")) {
    at++;
    tick();
    const words = line.trim().split(/\s+/);
    switch (words[0]) {
      case "v":
        known.vertices++;
        checkNumbers(words, 3, "a vertex needs three numbers", at);
        break;
      case "vt":
        known.uvs++;
        checkNumbers(words, 2, "a texture coordinate needs two numbers", at);
        break;
      case "vn":
        known.normals++;
        checkNumbers(words, 3, "a normal needs three numbers", at);
        break;
      case "f":
      case "l":
        elements++;
        checkCorners(words, known, at);
    }
  }
  if (elements === 0) throw new FormatError("there are no faces (lines that begin with f) and no lines (l).");
}

function checkNumbers(words: readonly string[], count: number, what: string, at: number): void {
  const numbers = words.slice(1, count + 1);
  const bad = numbers.find((word) => !NUMBER.test(word) || !Number.isFinite(Math.fround(Number(word))));
  if (numbers.length < count || bad !== undefined) {
    const why =
      bad === undefined
        ? ""
        : `; "${bad}" is not ${NUMBER.test(bad) ? "a number of a size that can be held" : "one"}`;
    throw new FormatError(`line ${at}: ${what}${why}.`);
  }
}

/** A face or a line. */
function checkCorners(words: readonly string[], known: Known, at: number): void {
  const [what, least, count] = words[0] === "f" ? ["face", 3, "three"] : ["line", 2, "two"];
  if (words.length <= Number(least))
    throw new FormatError(`line ${at}: a ${what} needs at least ${count} corners.`);
  for (const word of words.slice(1)) {
    const [vertex, uv, normal] = word.split("/");
    const points = (text: string | undefined, whole: number, thing: string) => {
      if (text === undefined || text === "") return;
      const index = Number(text);
      const reach = index < 0 ? whole + index : index - 1;
      if (!Number.isInteger(index) || index === 0 || reach < 0 || reach >= whole)
        throw new FormatError(
          `line ${at}: the corner "${word}" points at a ${thing} that is not there (${whole} so far).`,
        );
    };
    points(vertex || "0", known.vertices, "vertex");
    points(uv, known.uvs, "texture coordinate");
    points(normal, known.normals, "normal");
  }
}
