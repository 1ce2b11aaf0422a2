/** The list of all nodes, by type. */
import { move } from "./adjust/move";
import { rotate } from "./adjust/rotate";
import { scale } from "./adjust/scale";
import { tint } from "./adjust/tint";
import { cloneOntoSites } from "./clone/clone-onto-sites";
import type { AnyNode } from "./define";
import { angles } from "./drive/angles";
import { arithmetic } from "./drive/arithmetic";
import { attribute } from "./drive/attribute";
import { clock } from "./drive/clock";
import { falloff } from "./drive/falloff";
import { gradient } from "./drive/gradient";
import { indexNode } from "./drive/index-node";
import { joinVector } from "./drive/join-vector";
import { noise } from "./drive/noise";
import { position } from "./drive/position";
import { random } from "./drive/random";
import { remap } from "./drive/remap";
import { splitVector } from "./drive/split-vector";
import { vectorArithmetic } from "./drive/vector-arithmetic";
import { merge } from "./form/merge";
import { transform } from "./form/transform";
import { gridSites } from "./layout/grid-sites";
import { ringSites } from "./layout/ring-sites";
import { shapeSites } from "./layout/shape-sites";
import { spiralSites } from "./layout/spiral-sites";
import { box } from "./make/box";
import { cone } from "./make/cone";
import { cylinder } from "./make/cylinder";
import { disc } from "./make/disc";
import { importShape } from "./make/import";
import { plane } from "./make/plane";
import { sphere } from "./make/sphere";
import { torus } from "./make/torus";
import { stage } from "./route/stage";

const NODES: readonly AnyNode[] = [
  box,
  sphere,
  cylinder,
  cone,
  torus,
  disc,
  plane,
  importShape,
  gridSites,
  ringSites,
  spiralSites,
  shapeSites,
  cloneOntoSites,
  clock,
  position,
  indexNode,
  attribute,
  random,
  noise,
  falloff,
  remap,
  arithmetic,
  vectorArithmetic,
  joinVector,
  splitVector,
  angles,
  gradient,
  move,
  rotate,
  scale,
  tint,
  merge,
  transform,
  stage,
];

export const catalogue: ReadonlyMap<string, AnyNode> = new Map(NODES.map((node) => [node.type, node]));
