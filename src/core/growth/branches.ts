/**
 * Branches by space colonisation (A. Runions, B. Lane and P. Prusinkiewicz, "Modeling trees with a space colonization algorithm", 2007): each
 * attractor draws the node that is nearest to it, and is used up by what comes near.
 */
import { tick } from "../cancelling";
import { type Domain, makeColumn, makeFloats, makeIntegers, widened } from "../geometry/column";
import { lengthOf, power } from "../maths/exact";
import type { Vec3 } from "../maths/vector";
import type { State } from "../simulate/state";
import { PointGrid } from "../spatial/point-grid";

/** Nodes: `position`, `parent` (−1 for a root; always before its children), `born` (the round that it came in). */
export interface Branches extends State {
  readonly domains: { readonly nodes: Domain };
  readonly numbers: {
    /** That were grown. */
    readonly rounds: readonly [number];
    /** 1 once an attractor was within reach. */
    readonly reached: readonly [number];
  };
}

export interface BranchSettings {
  /** Units from a node to the next. */
  readonly step: number;
  /** How far an attractor draws, and how near it is used up. */
  readonly influence: number;
  readonly kill: number;
  /** What is added to unit directions at places, before they are that again: gravity, light, a wind. */
  readonly lean: (places: Lanes) => Lanes;
  /** How much of the direction of the parent is kept. */
  readonly straight: number;
  readonly mostNodes: number;
}

type Lanes = readonly ArrayLike<number>[];

/** Directions of which one is grown once only: between two attractors a node would bring forth the same child again and again. */
const SAME = 0.5;

export function rooted(places: Lanes): Branches {
  const count = places[0].length;
  return branchesOf(
    places.map((lane) => Float32Array.from(lane)),
    makeIntegers(count).fill(-1),
    makeFloats(count),
    0,
    0,
  );
}

function branchesOf(
  position: readonly Float32Array[],
  parent: Int32Array,
  born: Float32Array,
  rounds: number,
  reached: number,
): Branches {
  return {
    domains: {
      nodes: {
        count: parent.length,
        columns: {
          position: makeColumn("vector", position),
          parent: makeColumn("integer", [parent]),
          born: makeColumn("number", [born]),
        },
      },
    },
    numbers: { rounds: [rounds], reached: [reached] },
  };
}

/** Nodes that grow, as lists that are longer than what is there. */
class Growing {
  readonly position: Float32Array[];
  parent: Int32Array;
  born: Float32Array;
  /** First child, and the next one of the same parent; −1 for none. */
  private child: Int32Array;
  private next: Int32Array;
  count: number;

  constructor(before: Branches) {
    const { count, columns } = before.domains.nodes;
    this.count = count;
    const room = Math.max(64, count * 2);
    this.position = columns.position.lanes.map((lane) => widened(lane as Float32Array, room));
    this.parent = widened(columns.parent.lanes[0] as Int32Array, room);
    this.born = widened(columns.born.lanes[0] as Float32Array, room);
    this.child = new Int32Array(room).fill(-1);
    this.next = new Int32Array(room).fill(-1);
    for (let i = 0; i < count; i++) this.hang(i);
  }

  private hang(i: number): void {
    const p = this.parent[i];
    if (p < 0) return;
    this.next[i] = this.child[p];
    this.child[p] = i;
  }

  add(parent: number, place: Vec3, round: number): void {
    if (this.count === this.parent.length) {
      const room = this.count * 2;
      for (let a = 0; a < 3; a++) this.position[a] = widened(this.position[a], room);
      this.parent = widened(this.parent, room);
      this.born = widened(this.born, room);
      const [child, next] = [this.child, this.next];
      this.child = new Int32Array(room).fill(-1);
      this.child.set(child);
      this.next = new Int32Array(room).fill(-1);
      this.next.set(next);
    }
    const i = this.count++;
    for (let a = 0; a < 3; a++) this.position[a][i] = place[a];
    this.parent[i] = parent;
    this.born[i] = round;
    this.hang(i);
  }

  /** Whether a child of a node stands nearer to a place than so far. */
  hasChildNear(node: number, [x, y, z]: Vec3, far: number): boolean {
    const [px, py, pz] = this.position;
    for (let c = this.child[node]; c >= 0; c = this.next[c])
      if (lengthOf(px[c] - x, py[c] - y, pz[c] - z) < far) return true;
    return false;
  }

  /** From its parent to a node, unit; 0 0 0 for a root. */
  direction(node: number): Vec3 {
    const p = this.parent[node];
    if (p < 0) return [0, 0, 0];
    const [x, y, z] = this.position.map((lane) => lane[node] - lane[p]);
    const long = lengthOf(x, y, z) || 1;
    return [x / long, y / long, z / long];
  }

  lanes(from: number): Float32Array[] {
    return this.position.map((lane) => lane.slice(from, this.count));
  }

  done(rounds: number, reached: number): Branches {
    return branchesOf(
      this.lanes(0),
      this.parent.slice(0, this.count),
      this.born.slice(0, this.count),
      rounds,
      reached,
    );
  }
}

/** So many rounds later. Attractors may stand elsewhere than before; those near to anything are used up. */
export function grownBranches(
  before: Branches,
  attractors: Lanes,
  settings: BranchSettings,
  rounds: number,
): Branches {
  const { kill, influence, mostNodes } = settings;
  const done = before.numbers.rounds[0] + rounds;
  const count = attractors[0]?.length ?? 0;
  if (rounds <= 0 || before.domains.nodes.count === 0) return before;
  const tree = new Growing(before);
  let [reached] = before.numbers.reached;
  const nearest = new Nearest(attractors);
  nearest.look(tree.lanes(0), 0);
  for (let round = 1; round <= rounds && count > 0 && tree.count < mostNodes; round++) {
    tick(count);
    let draws = nearest.draws(tree, kill, influence);
    if (draws.size > 0) reached = 1;
    // A trunk: until the first attractor is within reach, the node that is nearest to any grows towards it.
    else if (!reached) draws = nearest.single(tree, kill);
    const first = tree.count;
    growAll(tree, draws, settings, before.numbers.rounds[0] + round);
    if (tree.count === first) break;
    nearest.look(tree.lanes(first), first);
  }
  return tree.done(done, reached);
}

/** A child for each node that is drawn. */
function growAll(
  tree: Growing,
  draws: ReadonlyMap<number, Float64Array>,
  { step, straight, lean }: BranchSettings,
  round: number,
): void {
  const nodes = Int32Array.from(draws.keys()).sort();
  const places = tree.position.map((lane) => Float32Array.from(nodes, (node) => lane[node]));
  const leaning = lean(places);
  for (let n = 0; n < nodes.length; n++) {
    const node = nodes[n];
    const draw = draws.get(node) as Float64Array;
    const long = lengthOf(draw[0], draw[1], draw[2]) || 1;
    const kept = tree.direction(node);
    const way = [0, 1, 2].map((a) => draw[a] / long + straight * kept[a] + leaning[a][n]);
    const size = lengthOf(way[0], way[1], way[2]);
    if (size < 1e-9) continue;
    const to = way.map((v, a) => places[a][n] + (v / size) * step) as unknown as Vec3;
    if (!tree.hasChildNear(node, to, step * SAME)) tree.add(node, to, round);
  }
}

/** Of each attractor which node is nearest. */
class Nearest {
  private readonly node: Int32Array;
  private readonly distance: Float32Array;

  private readonly attractors: readonly Float32Array[];

  constructor(attractors: Lanes) {
    this.attractors = attractors.map((lane) => Float32Array.from(lane));
    this.node = new Int32Array(attractors[0]?.length ?? 0).fill(-1);
    this.distance = new Float32Array(this.node.length).fill(Number.POSITIVE_INFINITY);
  }

  /** Nodes that have come, numbered from `first` on. */
  look(places: Lanes, first: number): void {
    if (places[0].length === 0 || this.node.length === 0) return;
    const { distances, numbers } = new PointGrid(places).nearest(this.attractors);
    for (let i = 0; i < numbers.length; i++)
      if (distances[i] < this.distance[i]) {
        this.distance[i] = distances[i];
        this.node[i] = numbers[i] + first;
      }
  }

  /** Sums of unit vectors from nodes to the attractors that draw them. */
  draws(tree: Growing, kill: number, influence: number): Map<number, Float64Array> {
    const sums = new Map<number, Float64Array>();
    for (let i = 0; i < this.node.length; i++) {
      const d = this.distance[i];
      if (!(d > kill && d <= influence)) continue;
      this.draw(tree, i, sums);
    }
    return sums;
  }

  /** The same for the one attractor that is nearest of all. */
  single(tree: Growing, kill: number): Map<number, Float64Array> {
    let best = -1;
    for (let i = 0; i < this.node.length; i++)
      if (this.distance[i] > kill && (best < 0 || this.distance[i] < this.distance[best])) best = i;
    const sums = new Map<number, Float64Array>();
    if (best >= 0 && Number.isFinite(this.distance[best])) this.draw(tree, best, sums);
    return sums;
  }

  private draw(tree: Growing, i: number, sums: Map<number, Float64Array>): void {
    const node = this.node[i];
    let sum = sums.get(node);
    if (!sum) {
      sum = new Float64Array(3);
      sums.set(node, sum);
    }
    for (let a = 0; a < 3; a++) sum[a] += (this.attractors[a][i] - tree.position[a][node]) / this.distance[i];
  }
}

/**
 * Pipe model (T. Shinozaki et al., 1964; C. Murray, 1926, with 3): r^n of a node is the sum of those of its children.
 * @param tip radius where nothing grows on
 */
export function pipeRadii(parent: ArrayLike<number>, tip: number, exponent: number): Float32Array {
  const powers = new Float64Array(parent.length);
  const radii = new Float32Array(parent.length);
  const end = power(tip, exponent);
  for (let i = parent.length - 1; i >= 0; i--) {
    if (powers[i] === 0) powers[i] = end;
    radii[i] = power(powers[i], 1 / exponent);
    if (parent[i] >= 0) powers[parent[i]] += powers[i];
  }
  return radii;
}
