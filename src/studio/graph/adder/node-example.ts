/** An example of every node: a small graph around it, from which its picture in the adder is drawn too. */
import { parseAddress } from "@/core/document/links";
import { blankDocument, type Link, type PieceDocument } from "@/core/document/schema";
import type { AnyInput, AnyNode, AnyOutput } from "@/core/nodes/define";
import type { Setting } from "@/core/nodes/ports";

/** The node that it is an example of. */
export const IT = "it";

/** Settings that show what a node does better than its defaults. */
const SETTINGS: Readonly<Record<string, Record<string, Setting>>> = {
  rotate: { turn: [0, 40, 0] },
  scale: { size: 0.4 },
  place: { at: [0, 1.2, 0], amount: 0.6 },
  transform: { turn: [0, 30, 0], scale: [1, 1.6, 1] },
  falloff: { outer: 1.4 },
  arithmetic: { do: "multiply", b: 0.5 },
  formula: { formula: "sin(place.x * 200)" },
  wave: { wavelength: 1.2 },
  noise: { size: 0.8 },
  cells: { size: 0.8 },
  tint: { color: "#e8735a" },
  "trim-overlaps": { radius: 0.7 },
  text: { text: "Ag", apart: "all of it", as: "outlines" },
  extrude: { depth: 0.7 },
  resample: { count: 12 },
  "part-of-path": { from: 0.2, to: 0.7 },
  dashes: { dash: 0.12, gap: 0.08 },
  "offset-outline": { distance: 0.12, times: 4 },
  "outline-boolean": { how: "difference" },
  "round-corners": { radius: 0.3 },
  "smooth-paths": { how: "corners cut", rounds: 3 },
  "simplify-paths": { distance: 0.08 },
  "blend-paths": { amount: 0.5 },
  "wind-around": { radius: 0.16, turns: 16 },
  "sweep-profile": { size: 0.22 },
  loft: { rows: 6 },
  revolve: { steps: 20 },
  patch: { bulge: 0.5 },
  "skin-sites": { across: 5 },
  subdivide: { rounds: 1 },
  "smooth-surface": { rounds: 12, how: "shrinks" },
  "split-faces": { as: "clones" },
  "draw-out-faces": { distance: 0.25, inset: 0.4 },
  thicken: { thickness: 0.25, towards: "the front" },
  "fill-holes": { with: "a fan of triangles" },
  bend: { angle: 100 },
  twist: { angle: 120 },
  taper: { size: 0.3 },
  ripple: { height: 0.18, wavelength: 0.9 },
  displace: { distance: 0.3 },
  "shrink-onto": { amount: 0.75 },
  remesh: { length: 0.3, rounds: 2 },
  decimate: { part: 0.3 },
  "clip-by-plane": { towards: [0.4, -1, -0.5] },
  facings: { looks: "flat" },
  "painted-mask": {
    mask: {
      dabs: [
        { at: [0.5, 0.6, 0.6], radius: 0.7, amount: 1 },
        { at: [-0.2, 0.3, 0.95], radius: 0.6, amount: 0.8 },
      ],
    },
  },
  "edge-paths": { which: "all edges" },
  "along-path": { size: "as long as the path", along: "y" },
  repeat: { count: 3, step: [0.3, 0.9, 0.3] },
  "fill-sites": { spacing: 0.4 },
  "path-sites": { count: 14 },
  "link-nearby": { reach: 1.2 },
  tube: { radius: 0.2, sides: 6 },
  neighbours: { reach: 1.3 },
  "ease-apart": { radius: 0.7 },
  "seat-on-surface": { direction: [0, -1, 0], missed: "are left out" },
  orient: { by: "away from a place", axis: "z" },
  "blend-poses": { amount: 0.5 },
  "carry-across": { attribute: "uv", from: "corners", to: "faces" },
  emitter: { rate: 90, speed: 1.2, life: 2 },
  particles: { runUp: 60 },
  gravity: { pull: [0, -2, 0] },
  wind: { velocity: [2, 0, 0] },
  "swirl-force": { strength: 6, size: 1 },
  attract: { place: [0, 2, 0], strength: 4 },
  orbit: { rate: 120 },
  flow: { along: [0, 1.2, 0] },
  collide: { place: [0, -1.2, 0], touch: "it sticks" },
  contacts: { radius: 0.14 },
  material: { kind: "brass" },
  smoke: { voxel: 0.2, most: 32, runUp: 20 },
  water: { cells: 40, runUp: 20 },
  "spots-and-stripes": { size: 0.8, seeds: 8, steps: 30, runUp: 40 },
  ink: { start: 4, spread: 0.02, hold: 0.3, runUp: 12 },
  "surface-growth": { edge: 0.16, apart: 0.24, speed: 0.02, runUp: 14 },
  "line-growth": { apart: 0.2, edge: 0.1, growth: 0.02, runUp: 26 },
  "branch-growth": { step: 0.12, influence: 1.4, kill: 0.3, runUp: 40 },
  "crust-growth": { size: 0.12, rate: 20, flat: true, runUp: 30 },
  "cell-rules": { share: 0.4, runUp: 9 },
  rewriting: { generations: 4, step: 0.09 },
  "erode-and-pile": { runUp: 40, rain: 0.05 },
  "soft-shape": { gap: 0.05, runUp: 14 },
  "rigid-pieces": { as: "boxes", runUp: 16 },
  "speed-limit": { most: 0.4 },
  trails: { length: 30, runUp: 60 },
  "thread-sites": { by: "row" },
  "steady-links": { reach: 0.5, runUp: 60 },
  ribbon: { width: 0.4 },
  "end-where": { by: "outside of a box", size: [3, 2.4, 3] },
};
/** Example shapes that stand for what arrives, by the type of the node. */
const ARRIVES: Readonly<Record<string, string>> = {
  "shape-sites": "ball.shape",
  emitter: "ball.shape",
  "keep-on-surface": "ball.shape",
  "follow-path": "coil.shape",
  "wrap-around": "sheet.shape",
  "lay-uvs-flat": "ball.shape",
  ribbon: "coil.shape",
  "outline-flow": "star.shape",
  "carry-across": "ball.shape",
  "scatter-sites": "ball.shape",
  transform: "box.shape",
  mirror: "side.shape",
  stage: "clones.clones",
  "fill-sites": "ball.shape",
  "path-sites": "coil.shape",
  "line-thickness": "coil.shape",
  "fill-outline": "star.shape",
  extrude: "star.shape",
  resample: "star.shape",
  "part-of-path": "coil.shape",
  dashes: "coil.shape",
  "offset-outline": "star.shape",
  "outline-boolean": "star.shape",
  "path-sample": "coil.shape",
  "round-corners": "star.shape",
  "smooth-paths": "star.shape",
  "simplify-paths": "coil.shape",
  "join-paths": "coil.shape",
  "reverse-paths": "coil.shape",
  "blend-paths": "star.shape",
  "wind-around": "coil.shape",
  "measure-paths": "coil.shape",
  "sweep-profile": "coil.shape",
  revolve: "vase.shape",
  patch: "star.shape",
  "skin-sites": "hills.shape",
  subdivide: "bar.shape",
  "smooth-surface": "bar.shape",
  "split-faces": "ball.shape",
  "draw-out-faces": "ball.shape",
  thicken: "pipe.shape",
  "fill-holes": "pipe.shape",
  weld: "ball.shape",
  dual: "seed.shape",
  bend: "bar.shape",
  twist: "bar.shape",
  taper: "bar.shape",
  ripple: "sheet.shape",
  displace: "ball.shape",
  "shrink-onto": "bar.shape",
  "solid-boolean": "bar.shape",
  hull: "hills.shape",
  fracture: "bar.shape",
  remesh: "ball.shape",
  decimate: "seed.shape",
  "clip-by-plane": "ball.shape",
  "measure-surface": "ball.shape",
  "distance-along-surface": "ball.shape",
  "project-uvs": "ball.shape",
  "painted-mask": "ball.shape",
  unwrap: "bar.shape",
  facings: "ball.shape",
  "edge-paths": "seed.shape",
  lattice: "bar.shape",
  "along-path": "bar.shape",
  "cast-ray": "ball.shape",
  "bake-clones": "few.clones",
  tube: "coil.shape",
  "volume-from-shape": "ball.shape",
  "melt-together": "blob.shape",
  "reshape-volume": "blob.shape",
  "shape-from-volume": "blob.shape",
  "volume-sample": "blob.shape",
  "volume-slice": "blob.shape",
  "volume-look": "haze.shape",
  "spots-and-stripes": "fine.shape",
  ink: "fine.shape",
  "surface-growth": "seed.shape",
  "line-growth": "circle.shape",
  "soft-shape": "hung-sheet.shape",
  "erode-and-pile": "rough.shape",
  "rigid-pieces": "aloft.clones",
};

const EXAMPLES: Readonly<Record<string, { type: string; set?: Record<string, Setting> }>> = {
  box: { type: "box", set: { size: [0.35, 0.35, 0.35] } },
  ball: { type: "sphere", set: { radius: 1, around: 12, rings: 6 } },
  side: { type: "transform", set: { move: [0.8, 0, 0] } },
  lattice: { type: "grid-sites", set: { across: 5, deep: 5 } },
  clones: { type: "clone-onto-sites" },
  place: { type: "position" },
  coil: { type: "helix", set: { turns: 2, height: 1.6 } },
  pair: { type: "ring-sites", set: { count: 4, radius: 0.7 } },
  few: { type: "clone-onto-sites" },
  star: { type: "arc", set: { radius: 1, points: 7 } },
  beside: { type: "transform", set: { move: [0.7, 0, 0.3] } },
  part: { type: "attribute", set: { name: "along" } },
  taper: { type: "remap", set: { toLow: 0.02, toHigh: 0.34 } },
  ring: { type: "ring-sites", set: { count: 25, radius: 1.6 } },
  hung: { type: "transform", set: { move: [0, 2, 0], scale: [0.45, 1, 0.45] } },
  bar: { type: "box", set: { size: [0.7, 1.6, 0.7], cuts: 4 } },
  sheet: { type: "plane", set: { width: 2.4, depth: 2.4, across: 32, deep: 32 } },
  pipe: { type: "cylinder", set: { radius: 0.7, height: 1.2, around: 12, caps: false } },
  seed: { type: "sphere", set: { radius: 1, build: "geodesic", detail: 2 } },
  hills: { type: "move", set: { by: [0, 1, 0] } },
  bumps: { type: "random" },
  profile: { type: "arc", set: { sweep: 150, start: -75, points: 12 } },
  vase: { type: "transform", set: { turn: [90, 0, 0] } },
  low: { type: "arc", set: { radius: 0.8, points: 4 } },
  high: { type: "transform", set: { move: [0, 1.2, 0], scale: [0.7, 1, 0.7] } },
  circle: { type: "arc", set: { radius: 0.8, points: 24 } },
  both: { type: "merge" },
  inside: { type: "scatter-sites", set: { where: "inside", count: 9 } },
  cage: { type: "grid-sites", set: { across: 3, up: 3, deep: 3, spacing: [0.4, 0.8, 0.4] } },
  bulged: { type: "twist", set: { angle: 140 } },
  births: { type: "emitter", set: { rate: 70, life: 2, speed: 0.9 } },
  stir: { type: "swirl-force", set: { strength: 5, size: 1 } },
  streaming: { type: "particles", set: { runUp: 60 } },
  rows: { type: "formula", set: { formula: "place.z" } },
  numbered: { type: "store-attribute", set: { name: "row" } },
  web: { type: "link-nearby", set: { reach: 1.5, most: 8 } },
  crumb: { type: "box", set: { size: [0.14, 0.14, 0.14] } },
  blob: { type: "volume-from-shape", set: { radius: 0.55, voxel: 0.12 } },
  fine: { type: "sphere", set: { radius: 1, build: "geodesic", detail: 4 } },
  "hung-sheet": { type: "transform", set: { move: [0, 1.15, 0] } },
  crown: { type: "scatter-sites", set: { where: "inside", count: 60 } },
  rough: { type: "move" },
  canopy: { type: "transform", set: { move: [0, 1.2, 0] } },
  tower: { type: "grid-sites", set: { across: 2, up: 5, deep: 2, spacing: [0.4, 0.42, 0.4], jitter: 0.3 } },
  aloft: { type: "clone-onto-sites" },
  haze: { type: "volume-from-field", set: { what: "density", value: 1, voxel: 0.2 } },
};
/** Inputs that something else arrives at than at the others of their node. */
const OWN: Readonly<Record<string, string>> = {
  "blend-poses.to": "ring.sites",
  "seat-on-surface.shape": "hung.shape",
  "seat-on-surface.onto": "ball.shape",
  "path-sample.at": "place.x",
  "outline-boolean.other": "beside.shape",
  "line-thickness.thickness": "taper.value",
  "vector-arithmetic.a": "place.vector",
  "blend-paths.other": "circle.shape",
  "sweep-profile.profile": "low.shape",
  "fracture.around": "inside.sites",
  "lattice.rest": "cage.sites",
  "lattice.moved": "bulged.shape",
  "along-path.path": "coil.shape",
  "loft.outlines": "both.shape",
  "shrink-onto.onto": "ball.shape",
  "solid-boolean.other": "side.shape",
  "distance-along-surface.sites": "few.clones",
  "particles.births": "births.births",
  "trails.shape": "streaming.sites",
  "shortest-ways.shape": "web.curves",
  "thread-sites.shape": "numbered.shape",
  "shortest-ways.seeds": "pair.sites",
  "shortest-ways.goals": "lattice.sites",
  "arrows.shape": "streaming.sites",
  "steady-links.shape": "streaming.sites",
  "wrap-around.onto": "ball.shape",
  "smoke.sources": "pair.sites",
  "smoke.obstacles": "hung.shape",
  "soft-shape.against": "ball.shape",
  "branch-growth.from": "low.shape",
  "branch-growth.towards": "crown.sites",
  "crust-growth.from": "pair.sites",
};
const LINKS = [
  "pair.sites>blob.shape",
  "sheet.shape>hung-sheet.shape",
  "sheet.shape>rough.shape",
  "bumps.value>rough.amount",
  "ball.shape>canopy.shape",
  "canopy.shape>crown.shape",
  "tower.sites>aloft.sites",
  "box.shape>aloft.shapes",
  "lattice.sites>hills.shape",
  "bumps.value>hills.amount",
  "bar.shape>inside.shape",
  "cage.sites>bulged.shape",
  "profile.shape>vase.shape",
  "circle.shape>high.shape",
  "low.shape>both.shapes",
  "high.shape>both.shapes",
  "part.value>taper.value",
  "star.shape>beside.shape",
  "ball.shape>births.shape",
  "births.births>streaming.births",
  "stir.force>streaming.forces",
  "lattice.sites>web.shape",
  "lattice.sites>numbered.shape",
  "rows.value>numbered.number",
  "pair.sites>few.sites",
  "box.shape>few.shapes",
  "clones.clones>hung.shape",
  "lattice.sites>clones.sites",
  "box.shape>clones.shapes",
  "ball.shape>side.shape",
];

/** What shows a field on clones. */
const SHOWN: typeof EXAMPLES = {
  boxes: { type: "clone-onto-sites" },
  lifted: { type: "move" },
  moved: { type: "move" },
  turned: { type: "rotate" },
  coloured: { type: "tint" },
  moving: { type: "particles", set: { runUp: 60 } },
  born: { type: "particles", set: { runUp: 60 } },
  crumbs: { type: "clone-onto-sites" },
  stage: { type: "stage" },
};

/** A small example of a node, the node itself as IT; what it gives is seen on the Stage. */
export function exampleOf(node: AnyNode): PieceDocument {
  const links = [...LINKS];
  const inputs = Object.entries<AnyInput>(node.inputs);
  for (const [name, { kind }] of inputs) {
    const arrives = name === "shapes" ? "box.shape" : name === "sites" ? "lattice.sites" : "clones.clones";
    const own = OWN[`${node.type}.${name}`];
    if (kind === "shape" || own) links.push(`${own ?? ARRIVES[node.type] ?? arrives}>${IT}.${name}`);
  }
  // What is worked out from a number is shown over the places of the row.
  const number = inputs.find(
    ([name, { kind, perElement }]) =>
      kind === "number" && perElement && /^(value|a|amount|number|x|when)$/.test(name),
  );
  if (number && (node.family === "drive" || node.type === "keep") && node.type !== "formula")
    links.push(`place.x>${IT}.${number[0]}`);
  const all = { ...EXAMPLES, [IT]: { type: node.type, set: SETTINGS[node.type] ?? {} }, ...SHOWN };
  links.push(...shownBy(node));
  const needed = feeding(links, node.type === "stage" ? IT : "stage");
  const nodes = Object.entries(all).filter(([id]) => needed.has(id));
  return {
    ...blankDocument(node.title),
    graph: {
      nodes: nodes.map(([id, { type, set }], i) => ({ id, type, at: [i * 280, 0], set: set ?? {} })),
      links: links
        .map((link): Link => ({ from: link.split(">")[0], to: link.split(">")[1] }))
        .filter(({ from, to }) => [from, to].every((end) => needed.has(parseAddress(end).node))),
    },
  };
}

const asCrumbs = (sites: string): string[] => [
  `${sites}>crumbs.sites`,
  "crumb.shape>crumbs.shapes",
  "crumbs.clones>stage.shape",
];

/** How what a node gives gets onto the Stage: sites get boxes, fields drive the clones. */
function shownBy(node: AnyNode): string[] {
  if (node.type === "stage") return [];
  const [[port, { kind }]] = Object.entries<AnyOutput>(node.outputs);
  const out = `${IT}.${port}`;
  switch (kind) {
    case "shape":
      if (node.type === "particles") return asCrumbs(out);
      return node.family === "layout" && node.type !== "repeat"
        ? [`${out}>boxes.sites`, "box.shape>boxes.shapes", "boxes.clones>stage.shape"]
        : [`${out}>stage.shape`];
    case "births":
      return [`${out}>born.births`, ...asCrumbs("born.sites")];
    case "finish":
      return ["clones.clones>stage.shape", `${out}>stage.finish`];
    case "light":
      return ["clones.clones>stage.shape", `${out}>stage.lights`];
    case "camera":
      return ["clones.clones>stage.shape", `${out}>stage.camera`];
    case "forces":
      return ["births.births>moving.births", `${out}>moving.forces`, ...asCrumbs("moving.sites")];
    case "color":
      return ["clones.clones>coloured.shape", `${out}>coloured.color`, "coloured.shape>stage.shape"];
    case "rotation":
      return ["clones.clones>turned.shape", `${out}>turned.turn`, "turned.shape>stage.shape"];
    case "vector":
      return ["clones.clones>moved.shape", `${out}>moved.by`, "moved.shape>stage.shape"];
    default:
      return ["clones.clones>lifted.shape", `${out}>lifted.amount`, "lifted.shape>stage.shape"];
  }
}

/** The node and all that leads to it. */
function feeding(links: readonly string[], end: string): ReadonlySet<string> {
  const found = new Set([end]);
  for (const id of found)
    for (const link of links) {
      const [from, to] = link.split(">").map((address) => parseAddress(address).node);
      if (to === id) found.add(from);
    }
  return found;
}
