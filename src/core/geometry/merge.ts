/** Several shapes as one. */
import { tick } from "../cancelling";
import { carryAcross, incidence } from "./across";
import {
  type Column,
  concatenate,
  type Domain,
  type Lane,
  makeColumn,
  makeIntegers,
  withColumns,
} from "./column";
import { mergeCurves } from "./curves";
import { coloredDomain, type Mesh } from "./mesh";
import { EMPTY_SHAPE, isFilled, type Shape } from "./shape";
import { topologyOf } from "./topology";

/** Meshes and curves joined, sites one after the other (ids made unique), sources side by side; of volumes the first stays (volumes/combine.ts melts them together). */
export function mergeShapes(shapes: readonly Shape[]): Shape {
  const filled = shapes.filter(isFilled);
  if (filled.length === 0) return EMPTY_SHAPE;
  if (filled.length === 1) return filled[0];
  const mesh = mergeMeshes(filled.flatMap((s) => (s.mesh ? [s.mesh] : [])));
  const curves = mergeCurves(filled.flatMap((s) => (s.curves ? [s.curves] : [])));
  const volume = filled.find((shape) => shape.volume)?.volume;
  const parts: Domain[] = [];
  const sources: Shape[] = [];
  let firstId = 0;
  for (const shape of filled) {
    if (!shape.sites || shape.sites.count === 0) continue;
    const { id, source } = shape.sites.columns;
    const shifted: Record<string, Column> = {};
    if (id) {
      shifted.id = shift(id, firstId, false);
      firstId = greatest(shifted.id.lanes[0], firstId) + 1;
    }
    if (source && shape.sources) {
      shifted.source = shift(source, sources.length, true);
      sources.push(...shape.sources);
    }
    parts.push(withColumns(shape.sites, shifted));
  }
  return {
    ...(mesh ? { mesh } : {}),
    ...(curves ? { curves } : {}),
    ...(parts.length > 0 ? { sites: concatenate(parts) } : {}),
    ...(volume ? { volume } : {}),
    ...(sources.length > 0 ? { sources } : {}),
  };
}

function greatest(lane: Lane, atLeast: number): number {
  let result = atLeast;
  for (let i = 0; i < lane.length; i++) if (lane[i] > result) result = lane[i];
  return result;
}

/** The column with a number added; `keepNegative` leaves −1 ("none") as it is. */
function shift(column: Column, by: number, keepNegative: boolean): Column {
  if (by === 0) return column;
  const from = column.lanes[0];
  const shifted = makeIntegers(from.length);
  for (let i = 0; i < from.length; i++) {
    tick();
    shifted[i] = keepNegative && from[i] < 0 ? from[i] : from[i] + by;
  }
  return makeColumn("integer", [shifted]);
}

/** Where some have colours on their points and others on their faces, all take them to their corners: nothing is lost by that. */
function coloredAlike(meshes: readonly Mesh[]): readonly Mesh[] {
  const colored = meshes.map(coloredDomain);
  if (new Set(colored.filter(Boolean)).size < 2) return meshes;
  return meshes.map((mesh, i) => {
    const name = colored[i];
    const color = name && mesh[name].columns.color;
    if (!color || name === "corners") return mesh;
    const { color: _moved, ...others } = mesh[name].columns;
    const corners = carryAcross(color, incidence({ mesh }, name, "corners"), "first");
    return {
      ...mesh,
      [name]: { count: mesh[name].count, columns: others },
      corners: withColumns(mesh.corners, { color: corners }),
    };
  });
}

export function mergeMeshes(list: readonly Mesh[]): Mesh | undefined {
  if (list.length < 2) return list[0];
  const meshes = coloredAlike(list);
  const corners = meshes.reduce((sum, m) => sum + m.corners.count, 0);
  const faces = meshes.reduce((sum, m) => sum + m.faces.count, 0);
  const cornerPoint = new Int32Array(corners);
  const faceStarts = new Int32Array(faces + 1);
  let cornerAt = 0;
  let faceAt = 0;
  let pointAt = 0;
  for (const mesh of meshes) {
    tick(mesh.corners.count);
    for (let c = 0; c < mesh.corners.count; c++) cornerPoint[cornerAt + c] = mesh.cornerPoint[c] + pointAt;
    for (let f = 0; f < mesh.faces.count; f++) faceStarts[faceAt + f] = mesh.faceStarts[f] + cornerAt;
    cornerAt += mesh.corners.count;
    faceAt += mesh.faces.count;
    pointAt += mesh.points.count;
  }
  faceStarts[faces] = cornerAt;
  // A normal that only some corners have would be wrong for the others; it is worked out again when drawn.
  const keepNormals = meshes.every((m) => m.corners.columns.normal);
  const cornerDomains = meshes.map((m) => {
    const { normal, ...rest } = m.corners.columns;
    return { count: m.corners.count, columns: keepNormals && normal ? { ...rest, normal } : rest };
  });
  return {
    points: concatenate(meshes.map((m) => m.points)),
    corners: { ...concatenate(cornerDomains), count: corners },
    faces: { ...concatenate(meshes.map((m) => m.faces)), count: faces },
    // Meshes share no edge, so those of one follow those of the other.
    ...(meshes.some((m) => m.edges) && {
      edges: concatenate(meshes.map((m) => m.edges ?? { count: topologyOf(m).edges.count, columns: {} })),
    }),
    faceStarts,
    cornerPoint,
  };
}
