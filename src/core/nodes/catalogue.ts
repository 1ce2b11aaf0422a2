/** The list of all nodes, by type. */

import { blendPoses } from "./adjust/blend-poses";
import { carryAcross } from "./adjust/carry-across";
import { carryOver } from "./adjust/carry-over";
import { easeApart } from "./adjust/ease-apart";
import { fitToNeighbours } from "./adjust/fit-to-neighbours";
import { freeze } from "./adjust/freeze";
import { groupNearby } from "./adjust/group-nearby";
import { keep } from "./adjust/keep";
import { lineThickness } from "./adjust/line-thickness";
import { move } from "./adjust/move";
import { orient } from "./adjust/orient";
import { paintedMask } from "./adjust/painted-mask";
import { place } from "./adjust/place";
import { renumber } from "./adjust/renumber";
import { rotate } from "./adjust/rotate";
import { scale } from "./adjust/scale";
import { seatOnSurface } from "./adjust/seat-on-surface";
import { soften } from "./adjust/soften";
import { storeAttribute } from "./adjust/store-attribute";
import { tint } from "./adjust/tint";
import { trimOverlaps } from "./adjust/trim-overlaps";
import { bakeClones } from "./clone/bake-clones";
import { cloneOntoSites } from "./clone/clone-onto-sites";
import type { AnyNode } from "./define";
import { camera } from "./dress/camera";
import { finish } from "./dress/finish";
import { light } from "./dress/light";
import { lineAround } from "./dress/line-around";
import { material } from "./dress/material";
import { textures } from "./dress/textures";
import { volumeLook } from "./dress/volume-look";
import { angles } from "./drive/angles";
import { arithmetic } from "./drive/arithmetic";
import { attribute } from "./drive/attribute";
import { castRay } from "./drive/cast-ray";
import { cells } from "./drive/cells";
import { choose } from "./drive/choose";
import { clock } from "./drive/clock";
import { colourShift } from "./drive/colour-shift";
import { compare } from "./drive/compare";
import { falloff } from "./drive/falloff";
import { formula } from "./drive/formula";
import { gradient } from "./drive/gradient";
import { indexNode } from "./drive/index-node";
import { joinVector } from "./drive/join-vector";
import { keys } from "./drive/keys";
import { mix } from "./drive/mix";
import { nearest } from "./drive/nearest";
import { nearestOnPath } from "./drive/nearest-on-path";
import { neighbours } from "./drive/neighbours";
import { noise } from "./drive/noise";
import { outlineFlow } from "./drive/outline-flow";
import { pathSample } from "./drive/path-sample";
import { pictureSample } from "./drive/picture-sample";
import { position } from "./drive/position";
import { profile } from "./drive/profile";
import { random } from "./drive/random";
import { remap } from "./drive/remap";
import { splitVector } from "./drive/split-vector";
import { stagger } from "./drive/stagger";
import { sweep } from "./drive/sweep";
import { swirl } from "./drive/swirl";
import { vectorArithmetic } from "./drive/vector-arithmetic";
import { volumeSample } from "./drive/volume-sample";
import { wave } from "./drive/wave";
import { arrows } from "./form/curves/arrows";
import { blendPaths } from "./form/curves/blend-paths";
import { dashes } from "./form/curves/dashes";
import { extrude } from "./form/curves/extrude";
import { fillOutline } from "./form/curves/fill-outline";
import { joinPaths } from "./form/curves/join-paths";
import { measurePaths } from "./form/curves/measure-paths";
import { offsetOutline } from "./form/curves/offset-outline";
import { outlineBoolean } from "./form/curves/outline-boolean";
import { partOfPath } from "./form/curves/part-of-path";
import { resample } from "./form/curves/resample";
import { reversePaths } from "./form/curves/reverse-paths";
import { roundCorners } from "./form/curves/round-corners";
import { shortestWays } from "./form/curves/shortest-ways";
import { simplifyPaths } from "./form/curves/simplify-paths";
import { smoothPaths } from "./form/curves/smooth-paths";
import { threadSites } from "./form/curves/thread-sites";
import { windAround } from "./form/curves/wind-around";
import { alongPath } from "./form/deform/along-path";
import { bend } from "./form/deform/bend";
import { displace } from "./form/deform/displace";
import { lattice } from "./form/deform/lattice";
import { ripple } from "./form/deform/ripple";
import { shrinkOnto } from "./form/deform/shrink-onto";
import { taper } from "./form/deform/taper";
import { twist } from "./form/deform/twist";
import { wrapAround } from "./form/deform/wrap-around";
import { linkNearby } from "./form/link-nearby";
import { merge } from "./form/merge";
import { clipByPlane } from "./form/meshes/clip-by-plane";
import { decimate } from "./form/meshes/decimate";
import { distanceAlongSurface } from "./form/meshes/distance-along-surface";
import { drawOut } from "./form/meshes/draw-out";
import { dual } from "./form/meshes/dual";
import { edgePaths } from "./form/meshes/edge-paths";
import { facings } from "./form/meshes/facings";
import { fillHoles } from "./form/meshes/fill-holes";
import { fracture } from "./form/meshes/fracture";
import { hull } from "./form/meshes/hull";
import { layUvsFlat } from "./form/meshes/lay-uvs-flat";
import { measureSurface } from "./form/meshes/measure-surface";
import { projectUvs } from "./form/meshes/project-uvs";
import { remesh } from "./form/meshes/remesh";
import { smoothSurface } from "./form/meshes/smooth-surface";
import { solidBoolean } from "./form/meshes/solid-boolean";
import { splitFaces } from "./form/meshes/split-faces";
import { subdivide } from "./form/meshes/subdivide";
import { thicken } from "./form/meshes/thicken";
import { unwrap } from "./form/meshes/unwrap";
import { weld } from "./form/meshes/weld";
import { mirror } from "./form/mirror";
import { loft } from "./form/surfaces/loft";
import { patch } from "./form/surfaces/patch";
import { revolve } from "./form/surfaces/revolve";
import { ribbon } from "./form/surfaces/ribbon";
import { skinSites } from "./form/surfaces/skin-sites";
import { sweepProfile } from "./form/surfaces/sweep-profile";
import { tube } from "./form/surfaces/tube";
import { transform } from "./form/transform";
import { meltTogether } from "./form/volumes/melt-together";
import { reshapeVolume } from "./form/volumes/reshape-volume";
import { shapeFromVolume } from "./form/volumes/shape-from-volume";
import { volumeFromField } from "./form/volumes/volume-from-field";
import { volumeFromShape } from "./form/volumes/volume-from-shape";
import { volumeSlice } from "./form/volumes/volume-slice";
import { fillSites } from "./layout/fill-sites";
import { gridSites } from "./layout/grid-sites";
import { pathSites } from "./layout/path-sites";
import { pictureSites } from "./layout/picture-sites";
import { repeat } from "./layout/repeat";
import { ringSites } from "./layout/ring-sites";
import { rowSites } from "./layout/row-sites";
import { scatterSites } from "./layout/scatter-sites";
import { shapeSites } from "./layout/shape-sites";
import { spiralSites } from "./layout/spiral-sites";
import { arc } from "./make/arc";
import { box } from "./make/box";
import { cone } from "./make/cone";
import { cylinder } from "./make/cylinder";
import { disc } from "./make/disc";
import { drawnPath } from "./make/drawn-path";
import { helix } from "./make/helix";
import { importShape } from "./make/import";
import { line } from "./make/line";
import { plane } from "./make/plane";
import { polygon } from "./make/polygon";
import { rewriting } from "./make/rewriting";
import { singleSite } from "./make/single-site";
import { sphere } from "./make/sphere";
import { star } from "./make/star";
import { text } from "./make/text";
import { torus } from "./make/torus";
import { tracePicture } from "./make/trace-picture";
import { emitter } from "./particles/emitter";
import { attract } from "./particles/forces/attract";
import { collide } from "./particles/forces/collide";
import { contacts } from "./particles/forces/contacts";
import { drag } from "./particles/forces/drag";
import { endWhere } from "./particles/forces/end-where";
import { flock } from "./particles/forces/flock";
import { flow } from "./particles/forces/flow";
import { followPath } from "./particles/forces/follow-path";
import { gravity } from "./particles/forces/gravity";
import { keepOnSurface } from "./particles/forces/keep-on-surface";
import { matchSpeed } from "./particles/forces/match-speed";
import { orbit } from "./particles/forces/orbit";
import { push } from "./particles/forces/push";
import { speedLimit } from "./particles/forces/speed-limit";
import { springHome } from "./particles/forces/spring-home";
import { swirlForce } from "./particles/forces/swirl-force";
import { wind } from "./particles/forces/wind";
import { particles } from "./particles/particles";
import { steadyLinks } from "./particles/steady-links";
import { trails } from "./particles/trails";
import { stage } from "./route/stage";
import { branchGrowth } from "./simulate/branch-growth";
import { cellRules } from "./simulate/cell-rules";
import { closeLoop } from "./simulate/close-loop";
import { crustGrowth } from "./simulate/crust-growth";
import { erodeAndPile } from "./simulate/erode-and-pile";
import { holdFrame } from "./simulate/hold-frame";
import { ink } from "./simulate/ink";
import { lag } from "./simulate/lag";
import { lineGrowth } from "./simulate/line-growth";
import { rigidPieces } from "./simulate/rigid-pieces";
import { smoke } from "./simulate/smoke";
import { softShape } from "./simulate/soft-shape";
import { spotsAndStripes } from "./simulate/spots-and-stripes";
import { spring } from "./simulate/spring";
import { springValue } from "./simulate/spring-value";
import { surfaceGrowth } from "./simulate/surface-growth";
import { water } from "./simulate/water";

const NODES: readonly AnyNode[] = [
  box,
  sphere,
  cylinder,
  cone,
  torus,
  disc,
  plane,
  polygon,
  star,
  text,
  line,
  arc,
  helix,
  rewriting,
  drawnPath,
  tracePicture,
  singleSite,
  importShape,
  gridSites,
  ringSites,
  spiralSites,
  shapeSites,
  rowSites,
  scatterSites,
  fillSites,
  pathSites,
  pictureSites,
  repeat,
  cloneOntoSites,
  bakeClones,
  clock,
  position,
  indexNode,
  attribute,
  random,
  noise,
  swirl,
  outlineFlow,
  cells,
  nearest,
  neighbours,
  castRay,
  volumeSample,
  pathSample,
  nearestOnPath,
  falloff,
  wave,
  stagger,
  keys,
  sweep,
  pictureSample,
  remap,
  profile,
  compare,
  choose,
  mix,
  arithmetic,
  vectorArithmetic,
  formula,
  joinVector,
  splitVector,
  angles,
  gradient,
  colourShift,
  move,
  rotate,
  scale,
  tint,
  lineThickness,
  place,
  orient,
  seatOnSurface,
  storeAttribute,
  freeze,
  keep,
  renumber,
  trimOverlaps,
  groupNearby,
  fitToNeighbours,
  easeApart,
  blendPoses,
  carryAcross,
  carryOver,
  soften,
  paintedMask,
  emitter,
  particles,
  gravity,
  drag,
  wind,
  push,
  swirlForce,
  attract,
  orbit,
  flow,
  followPath,
  matchSpeed,
  flock,
  springHome,
  collide,
  contacts,
  keepOnSurface,
  speedLimit,
  endWhere,
  trails,
  steadyLinks,
  smoke,
  water,
  spotsAndStripes,
  branchGrowth,
  surfaceGrowth,
  lineGrowth,
  crustGrowth,
  cellRules,
  erodeAndPile,
  ink,
  softShape,
  rigidPieces,
  lag,
  spring,
  springValue,
  holdFrame,
  closeLoop,
  merge,
  transform,
  mirror,
  linkNearby,
  tube,
  ribbon,
  sweepProfile,
  loft,
  revolve,
  patch,
  skinSites,
  fillOutline,
  extrude,
  resample,
  partOfPath,
  dashes,
  roundCorners,
  smoothPaths,
  simplifyPaths,
  joinPaths,
  reversePaths,
  arrows,
  shortestWays,
  threadSites,
  blendPaths,
  windAround,
  measurePaths,
  offsetOutline,
  outlineBoolean,
  subdivide,
  smoothSurface,
  splitFaces,
  drawOut,
  thicken,
  fillHoles,
  weld,
  facings,
  edgePaths,
  dual,
  volumeFromShape,
  volumeFromField,
  meltTogether,
  reshapeVolume,
  shapeFromVolume,
  volumeSlice,
  solidBoolean,
  fracture,
  hull,
  clipByPlane,
  remesh,
  decimate,
  measureSurface,
  distanceAlongSurface,
  projectUvs,
  unwrap,
  layUvsFlat,
  bend,
  twist,
  taper,
  ripple,
  displace,
  shrinkOnto,
  wrapAround,
  lattice,
  alongPath,
  material,
  lineAround,
  volumeLook,
  textures,
  camera,
  light,
  finish,
  stage,
];

export const catalogue: ReadonlyMap<string, AnyNode> = new Map(NODES.map((node) => [node.type, node]));
