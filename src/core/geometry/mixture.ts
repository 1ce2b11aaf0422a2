/**
 * Elements made of others: element i is the sum of items[k] × weights[k] over k = starts[i] … starts[i + 1] − 1. The weights of an
 * element add up to 1. What forms meshes anew says so once, and every attribute follows.
 */
import { tick } from "../cancelling";
import { unitRotation } from "../maths/quaternion";
import { type Column, type Domain, type Lane, makeColumn, makeLanes } from "./column";
import { premultiplied, straighten } from "./premultiplied";
import type { Incidence } from "./topology";

export interface Mixture extends Incidence {
  readonly weights: Float32Array;
}

/** A domain of mixtures of another one's elements. Whole numbers are taken from the one with the greatest weight. */
export function mixed(domain: Domain, mixture: Mixture): Domain {
  const count = mixture.starts.length - 1;
  const columns = Object.fromEntries(
    Object.entries(domain.columns).map(([name, column]) => [name, mixedColumn(column, mixture)]),
  );
  return { count, columns };
}

export function mixedColumn(column: Column, mixture: Mixture): Column {
  const { kind } = column;
  const count = mixture.starts.length - 1;
  const lanes = makeLanes(kind, count);
  if (kind === "integer") heaviest(column.lanes[0], lanes[0], mixture);
  else if (kind === "rotation") turns(column.lanes, lanes, mixture);
  else {
    const from = premultiplied(column);
    for (const [l, lane] of lanes.entries()) sums(from[l], lane, mixture);
    straighten(kind, lanes);
  }
  return makeColumn(kind, lanes);
}

function sums(from: Lane, to: Lane, { starts, items, weights }: Mixture): void {
  for (let i = 0; i < to.length; i++) {
    const end = starts[i + 1];
    tick((end - starts[i]) / 4);
    let sum = 0;
    for (let k = starts[i]; k < end; k++) sum += from[items[k]] * weights[k];
    to[i] = sum;
  }
}

function heaviest(from: Lane, to: Lane, { starts, items, weights }: Mixture): void {
  for (let i = 0; i < to.length; i++) {
    tick();
    let best = starts[i];
    for (let k = best + 1; k < starts[i + 1]; k++) if (weights[k] > weights[best]) best = k;
    to[i] = from[items[best]];
  }
}

function turns(from: readonly Lane[], to: readonly Lane[], { starts, items, weights }: Mixture): void {
  for (let i = 0; i + 1 < starts.length; i++) {
    tick(4);
    const first = items[starts[i]];
    for (let k = starts[i]; k < starts[i + 1]; k++) {
      let along = 0;
      for (const lane of from) along += lane[first] * lane[items[k]];
      const weight = along < 0 ? -weights[k] : weights[k];
      for (const [l, lane] of to.entries()) lane[i] += from[l][items[k]] * weight;
    }
    unitRotation(to, i);
  }
}

/** Writes mixtures one after the other. */
export class MixtureWriter {
  private readonly starts: Int32Array;
  private items = new Int32Array(1024);
  private weights = new Float32Array(1024);
  private made = 0;
  private end = 0;

  constructor(private readonly count: number) {
    this.starts = new Int32Array(count + 1);
  }

  add(item: number, weight: number): void {
    if (this.end === this.items.length) {
      const [items, weights] = [this.items, this.weights];
      this.items = new Int32Array(this.end * 2);
      this.weights = new Float32Array(this.end * 2);
      this.items.set(items);
      this.weights.set(weights);
    }
    this.items[this.end] = item;
    this.weights[this.end++] = weight;
  }

  /** Ends the element that was added to. */
  next(): void {
    tick();
    this.starts[++this.made] = this.end;
  }

  /** An element that is one of the others. */
  same(item: number): void {
    this.add(item, 1);
    this.next();
  }

  done(): Mixture {
    if (this.made !== this.count) throw new Error(`${this.made} of ${this.count} mixtures were written.`);
    return {
      starts: this.starts,
      items: this.items.slice(0, this.end),
      weights: this.weights.slice(0, this.end),
    };
  }
}

/** Adds weights up by item, where an item comes several times; empty again once it is written. */
export class WeightSum {
  private readonly weights: Float64Array;
  private readonly touched: number[] = [];

  /** @param items how many there are */
  constructor(items: number) {
    this.weights = new Float64Array(items);
  }

  add(item: number, weight: number): void {
    if (weight === 0) return;
    if (this.weights[item] === 0) this.touched.push(item);
    this.weights[item] += weight;
  }

  /** Writes what was added as one element. */
  write(to: MixtureWriter): void {
    for (const item of this.touched) {
      // An item whose weights took each other away may stand twice.
      if (this.weights[item] !== 0) to.add(item, this.weights[item]);
      this.weights[item] = 0;
    }
    this.touched.length = 0;
    to.next();
  }
}
