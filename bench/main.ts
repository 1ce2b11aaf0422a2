/** Measures ratios in one run and writes docs/BENCH.md: every figure against something measured beside it. */
import { writeFileSync } from "node:fs";
import { cpus } from "node:os";
import { COMPOSED_BY_SOFTWARE } from "../scripts/chromium";
import { type Helper, HelperPool, setHelpers } from "../src/core/kernels/helpers";
import { PHYSICS } from "../src/core/rigid/physics";
import { SOLIDS } from "../src/core/solids/solid";
import { startHelper } from "../src/server/threads/start-helpers";
import { easing, filling, fitting, keepingApart, rays } from "./cloning";
import { drawnPoints } from "./drawn-points";
import { composing, fractalPlacing, fusedChain, gradientNoise, steppedChain } from "./fields";
import { fieldMaterials, finishedFrames } from "./finished";
import { combining, deforming, latticed, remeshing, subdividing, tubing } from "./forming";
import { nothingChanged, twoThreads, wholeFrame } from "./frame";
import { graphPan } from "./graph-pan";
import { branching, draping, reacting, surfaceStep, tumbling } from "./growth";
import type { Pair } from "./measure";
import {
  againstPlain,
  bareSites,
  closestPlaces,
  falling,
  flocked,
  lagStates,
  movingSheet,
  oneFrameBack,
  pointsOnLines,
  springing,
  swirling,
  swirlingTogether,
  thrown,
  trailing,
  twoShapes,
} from "./moving";
import { nearestOfAll } from "./neighbours";
import { distances, melting, smoking, surfaces } from "./volumes";

const SIZES = [1e3, 1e4, 1e5, 1e6, 1e7];
/** Points that are drawn while the camera turns. */
const POINTS = 200_000;
/** Nodes of the graph that is dragged. */
const NODES = 300;
/** Clones with materials that are drawn while the camera turns. */
const MADE_OF = 20_000;
/** The size that figures are wanted for. */
const MILLION = 1e6;

interface Row {
  readonly work: string;
  readonly against: string;
  readonly wanted: number;
  readonly measure: (count: number) => Pair;
  /** The largest size; a million when missing: beyond it the other side runs out of memory or patience. */
  readonly most?: number;
}

const rowsWith = (helper: Helper): readonly Row[] => [
  {
    work: "seven-step falloff chain",
    against: "a hand-fused JavaScript loop",
    wanted: 0.22,
    measure: fusedChain,
    most: 1e7,
  },
  { work: "the same", against: "an array per step in JavaScript", wanted: 0.03, measure: steppedChain },
  {
    work: "gradient noise in 3D",
    against: "the simplex-noise package",
    wanted: 0.28,
    measure: gradientNoise,
    most: 1e7,
  },
  {
    work: "4-octave noise for place, turn and size",
    against: "straightforward JavaScript",
    wanted: 0.15,
    measure: fractalPlacing,
  },
  {
    work: "4 × 4 matrices from place, turn, size",
    against: "three's compose",
    wanted: 0.22,
    measure: composing,
  },
  {
    work: "a whole frame: grid, noise, falloff, move, rotate, scale, tint, matrices, colours",
    against: "copying its output once",
    wanted: 6,
    measure: wholeFrame,
    most: 1e7,
  },
  { work: "the same with 2 threads", against: "with 1 thread", wanted: 0.6, measure: twoThreads(helper) },
  {
    work: "the nearest neighbour of every point, grid built and asked",
    against: "the static-kdtree package",
    wanted: 0.3,
    measure: nearestOfAll,
  },
  {
    work: "a frame where nothing changed",
    against: "the first frame",
    wanted: 0.001,
    measure: nothingChanged,
  },
];

/** Work of one size. */
const SINGLE: readonly Omit<Row, "most">[] = [
  {
    work: "a million sites filled into a ball of 20,480 triangles",
    against: "passing all rows of the lattice through it",
    wanted: 3,
    measure: filling,
  },
  {
    work: "100,000 rays onto the ball while it changes",
    against: "three-mesh-bvh's calls alone",
    wanted: 1.3,
    measure: rays,
  },
  {
    work: "Fit to neighbours on 100,000 sites",
    against: "building a hashed grid of them",
    wanted: 2,
    measure: fitting,
  },
  {
    work: "a cube filled with 88,000 sites at a least distance",
    against: "the poisson-disk-sampling package",
    wanted: 0.1,
    measure: keepingApart,
  },
  {
    work: "Ease apart, 50,000 sites, 20 rounds",
    against: "building their hashed grid 20 times",
    wanted: 25,
    measure: easing,
  },
];

/** What moves from frame to frame, on all threads. */
const MOVING: readonly Omit<Row, "most">[] = [
  {
    work: "states of five Lags in a row on 50,000 sites, a jump to frame 24 (MB)",
    against: "130 MB",
    wanted: 1,
    measure: lagStates,
  },
  { work: "Spring on 100,000 clones", against: "Move of them", wanted: 12, measure: springing },
  {
    work: "one frame back at 400,000 springing clones",
    against: "a step of them",
    wanted: 3,
    measure: oneFrameBack,
  },
  {
    work: "a mesh of 250,000 quads that changes, for the stage",
    against: "copying its places and normals",
    wanted: 4,
    measure: movingSheet,
  },
  { work: "a million bare sites for the stage", against: "copying them", wanted: 3, measure: bareSites },
  {
    work: "a million points on lines for the stage",
    against: "copying them",
    wanted: 4,
    measure: pointsOnLines,
  },
  {
    work: "a million clones that pick from two shapes in turn",
    against: "from one",
    wanted: 2,
    measure: twoShapes,
  },
  {
    work: "the nearest place on a surface of 1,536 triangles for 100,000 sites",
    against: "three-mesh-bvh",
    wanted: 0.1,
    measure: closestPlaces,
  },
  { work: "a million particles, gravity and drag", against: "copying them", wanted: 2, measure: falling },
  { work: "a million particles that swirl", against: "copying them", wanted: 20, measure: swirling },
  {
    work: "the same",
    against: "straightforward JavaScript",
    wanted: 0.29,
    measure: againstPlain,
  },
  { work: "the same with 2 threads", against: "with 1 thread", wanted: 0.6, measure: swirlingTogether },
  {
    work: "100,000 particles that a moving mesh of 20,000 faces throws",
    against: "asking for the nearest place on it",
    wanted: 1.5,
    measure: thrown,
  },
  {
    work: "100,000 that mind each other",
    against: "building the grid of who is near",
    wanted: 12,
    measure: flocked,
  },
  {
    work: "trails of 60 frames of 20,000",
    against: "copying their points",
    wanted: 3,
    measure: trailing,
  },
];

/** Shapes made of shapes, on both threads. */
const FORMING: readonly Omit<Row, "most">[] = [
  {
    work: "distances to 20,480 triangles at 128³, two voxels on both sides",
    against: "asking three-mesh-bvh at every voxel",
    wanted: 0.02,
    measure: distances,
  },
  { work: "the surface of a ball at 128³", against: "copying the grid", wanted: 8, measure: surfaces },
  {
    work: "two balls melted in a box of many times their size",
    against: "in one that fits",
    wanted: 1.1,
    measure: melting,
  },
  { work: "a step of smoke at 64³", against: "copying six grids of its size", wanted: 35, measure: smoking },
  {
    work: "Catmull–Clark of 10,000 quads whose points move",
    against: "of new ones",
    wanted: 0.25,
    measure: subdividing,
  },
  ...["twist", "bend", "taper", "ripple"].map((type) => ({
    work: `${type} of 250,000 points`,
    against: "copying their places, which no cache holds",
    wanted: 4,
    measure: () => deforming(type),
  })),
  {
    work: "a lattice of 3 × 3 × 3 around 250,000 points",
    against: "copying their places, which no cache holds",
    wanted: 4,
    measure: latticed,
  },
  {
    work: "one ball of 20,480 triangles cut out of another",
    against: "bare Manifold, attributes apart",
    wanted: 1.2,
    measure: combining,
  },
  { work: "20,480 triangles made even, three rounds", against: "0.8 s", wanted: 1, measure: remeshing },
  {
    work: "a point of a drawn path moved, with a tube of 20,000 faces",
    against: "a sixtieth of a second",
    wanted: 1,
    measure: tubing,
  },
];

/** What grows and gives way, on both threads. */
const GROWING: readonly Omit<Row, "most">[] = [
  {
    work: "a round of a surface's growth, 20,000 points",
    against: "the neighbours of those within the same radius",
    wanted: 4,
    measure: surfaceStep,
  },
  {
    work: "ten steps of spots and stripes on 512 × 512 points",
    against: "copying two grids ten times",
    wanted: 4,
    measure: reacting,
  },
  {
    work: "branches to 20,000 attractors, thirty rounds",
    against: "asking for their nearest new nodes as often",
    wanted: 3,
    measure: branching,
  },
  {
    work: "a soft sheet of 40,000 points, ten sub-steps",
    against: "copying places and speeds ten times",
    wanted: 25,
    measure: draping,
  },
  { work: "2,000 rigid boxes, two sub-steps", against: "bare Rapier", wanted: 1.2, measure: tumbling },
];

const figure = (n: number): string => (n >= 10 ? n.toFixed(0) : n.toPrecision(2));

async function main(): Promise<void> {
  const helper = await startHelper();
  const lines = rowsWith(helper).map(({ work, against, wanted, measure, most = MILLION }) => {
    const pairs = new Map(SIZES.filter((count) => count <= most).map((count) => [count, measure(count)]));
    const cells = SIZES.map((count) => {
      const pair = pairs.get(count);
      return pair ? figure(pair.ours / pair.other) : "–";
    });
    console.log(work, cells.join("  "));
    const ours = pairs.get(MILLION)?.ours ?? 0;
    return `| ${work} | ${against} | ${cells.join(" | ")} | ${wanted} | ${figure(ours)} ms |`;
  });
  const single = SINGLE.map(({ work, against, wanted, measure }) => {
    const { ours, other } = measure(0);
    console.log(work, figure(ours / other));
    return `| ${work} | ${against} | ${figure(ours / other)} | ${wanted} | ${figure(ours)} ms |`;
  });
  const pool = new HelperPool();
  pool.add(helper);
  setHelpers(pool);
  const moving = MOVING.map(({ work, against, wanted, measure }) => {
    const { ours, other } = measure(0);
    console.log(work, figure(ours / other));
    return `| ${work} | ${against} | ${figure(ours / other)} | ${wanted} | ${figure(ours)}${work.endsWith("(MB)") ? "" : " ms"} |`;
  });
  await SOLIDS.load();
  const forming = FORMING.map(({ work, against, wanted, measure }) => {
    const { ours, other } = measure(0);
    console.log(work, figure(ours / other));
    return `| ${work} | ${against} | ${figure(ours / other)} | ${wanted} | ${figure(ours)} ms |`;
  });
  await PHYSICS.load();
  const growing = GROWING.map(({ work, against, wanted, measure }) => {
    const { ours, other } = measure(0);
    console.log(work, figure(ours / other));
    return `| ${work} | ${against} | ${figure(ours / other)} | ${wanted} | ${figure(ours)} ms |`;
  });
  setHelpers(null);
  const pan = await graphPan(NODES, COMPOSED_BY_SOFTWARE);
  const emulated = await graphPan(NODES);
  const points = await drawnPoints(POINTS);
  const looked = await finishedFrames();
  const made = await fieldMaterials(MADE_OF);
  console.log("panning", figure(pan.ours / pan.other), figure(emulated.ours / emulated.other));
  writeFileSync(
    "docs/BENCH.md",
    `# Bench

Written by \`./run bench\` on ${cpus().length} × ${cpus()[0].model.trim()}, Node ${process.version}, one thread. Each
cell is our time over the other's, both medians of one run, taken in turns (one to 100 runs in six seconds); smaller is better.

| work | against | ${SIZES.map((n) => n.toLocaleString("en-GB")).join(" | ")} | wanted at a million | ours at a million |
|---|---|${SIZES.map(() => "---|").join("")}---|---|
${lines.join("\n")}

| work | against | ratio | wanted | ours |
|---|---|---|---|---|
${single.join("\n")}

What is carried from frame to frame and what is drawn of it, on both threads:

| work | against | ratio | wanted | ours |
|---|---|---|---|---|
${moving.join("\n")}

Shapes made of shapes, on both threads:

| work | against | ratio | wanted | ours |
|---|---|---|---|---|
${forming.join("\n")}

What grows and gives way, on both threads:

| work | against | ratio | wanted | ours |
|---|---|---|---|---|
${growing.join("\n")}

Fit to neighbours builds a grid as well and then finds the nearest of every site: cells beside each other meet once, two sites at a time with a block of four.
All sites have moved before each run, which is counted too; while they stay, what was found is used again.
Ease apart was wanted in a second.

Dragging the ground of a graph of ${NODES} nodes in Chromium: ${figure(pan.ours / pan.other)} times the frame time of an empty graph (wanted 1.3; ${figure(pan.ours)} and
${figure(pan.other)} ms a frame, means of a drag, the median of three drags each, before which there was one that does not count; medians of frames would hide the
slow ones, as half of the frames are drawn while nothing has moved). That is with the page's layers laid together by the browser's own software, as it does where there is no
graphics card. On an emulated card, where each layer as large as the graph costs 20 to 40 ms a frame, it is ${figure(emulated.ours / emulated.other)} times (${figure(emulated.ours)} and
${figure(emulated.other)} ms). What the page itself does while it moves is small since its layers are not laid out anew at every move (src/studio/graph/graph.css says how).

Turning the stage's camera around ${POINTS.toLocaleString("en-GB")} points with sizes and colours of their own, drawn in software: ${figure(points.ours / points.other)} times the frame
time of the same points drawn bare (wanted 1.5; ${figure(points.ours)} and ${figure(points.other)} ms).

A Finish with glow, colour, edges and grain over 900 clones, while the camera turns: ${figure(looked.ours / looked.other)} times the frame time without it
(wanted 2.5; ${figure(looked.ours)} and ${figure(looked.other)} ms). ${MADE_OF.toLocaleString("en-GB")} clones whose colour, roughness and emission are fields: ${figure(made.ours / made.other)} times those where they are
the same for all (wanted 1.15; ${figure(made.ours)} and ${figure(made.other)} ms).

At a thousand elements what counts is what one run costs by itself: compiling the fields, binding kernels, the graph around
them. For the nearest neighbours kd-tree-javascript was tried too (100,000 points: 4.9 s against 1.7 s of static-kdtree).

Figures with much vector arithmetic move from run to run: on this machine it slows to two thirds for minutes at a time, while
scalar code and copying do not; one lattice of noise takes 14 ms a million places or 21. The four octaves came to between 0.15
and 0.22 in six runs, the whole frame to between 4.8 and 6.2 in four. The other side of the four octaves is the same formula in JavaScript,
with the same cheap hash. What is left of ours is arithmetic: eight corners a lattice, each a multiplication, three look-ups and
five operations on four places, and finding the cell, which three noises share. Counted by hand that is about 190 vector instructions for
four places in the 58 ns (145 cycles) that the quick phases take: 1.3 a cycle, which is near what two vector units give.
`,
  );
  await helper.terminate();
}

void main();
