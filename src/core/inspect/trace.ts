/** One element's way through the graph: what it is at every node's inputs and outputs, and what made it as it is. */
import type { FlatGraph } from "../capsules/flatten";
import { indexGraph } from "../document/links";
import { carriedBy } from "../evaluate/carried";
import type { Remembered, ResultMemory } from "../evaluate/memory";
import { isValue, plainNumbers, type Value } from "../fields/expression";
import { runValues } from "../fields/run";
import { type Domain, gather } from "../geometry/column";
import type { Shape } from "../geometry/shape";
import type { AnyInput } from "../nodes/define";
import { shapeNamed } from "../values/kinds";
import type { Parts } from "../values/parts";
import { elementsIn } from "./carried-values";
import { type ForceSight, forceSights } from "./force-sights";
import { indexOfId } from "./table";

/** What an element is at a port. */
export type Sight =
  | {
      readonly kind: "element";
      readonly index: number;
      readonly id: number;
      /** By attribute, a number per component. */
      readonly attributes: Readonly<Record<string, readonly number[]>>;
    }
  | { readonly kind: "value"; readonly value: readonly number[] };

export interface NodeSights {
  readonly inputs: Readonly<Record<string, Sight>>;
  readonly outputs: Readonly<Record<string, Sight>>;
}

/** A change of one attribute on the way, from where the element begins to where it is seen. */
export interface Change {
  readonly node: string;
  readonly attribute: string;
  readonly before: readonly number[];
  readonly after: readonly number[];
  /** A later node that sets the attribute whatever it was; this change then has no effect. */
  overriddenBy: string | null;
}

export interface Trace {
  /** By the way to the node. */
  readonly nodes: Readonly<Record<string, NodeSights>>;
  readonly changes: readonly Change[];
  /** What each force does to it, in their order, where it is a particle. */
  readonly forces: readonly ForceSight[];
  /** What the element is where it was picked. */
  readonly element: Extract<Sight, { kind: "element" }>;
  readonly count: number;
}

const WATCHED: Readonly<Record<string, readonly number[]>> = {
  position: [0, 0, 0],
  rotation: [0, 0, 0, 1],
  scale: [1, 1, 1],
  color: [1, 1, 1, 1],
};

/** Follows an element of an output back: the one with the id, else that of the number. Null when there is no such element. */
export function traceElement(
  flat: FlatGraph,
  memory: ResultMemory,
  node: string,
  port: string,
  number: number,
  id: number | null = null,
): Trace | null {
  const result = memory.get(node);
  const domain = elementsIn(result && shapeNamed(result.definition.outputs, result.outputs, port));
  const index = domain && id !== null ? indexOfId(domain, id) : number;
  if (!domain || index < 0 || index >= domain.count) return null;
  const tracing = new Tracing(flat, memory);
  tracing.follow(node, port, index);
  return {
    nodes: tracing.nodes,
    changes: tracing.changesInOrder(),
    forces: tracing.forces,
    element: sightOf(domain, index),
    count: domain.count,
  };
}

interface Sights {
  readonly inputs: Record<string, Sight>;
  readonly outputs: Record<string, Sight>;
}

class Tracing {
  readonly nodes: Record<string, Sights> = {};
  readonly forces: ForceSight[] = [];
  /** Last node first. */
  private readonly changes: Change[] = [];
  private readonly index;

  constructor(
    private readonly flat: FlatGraph,
    private readonly memory: ResultMemory,
  ) {
    this.index = indexGraph(flat.graph);
  }

  /** From the first node to the last; what a later one sets anew is marked. */
  changesInOrder(): Change[] {
    return [...this.changes].reverse();
  }

  follow(node: string, port: string, index: number): void {
    let at: { node: string; port: string; index: number } | null = { node, port, index };
    const overriding = new Map<string, string>();
    while (at) at = this.step(at.node, at.port, at.index, overriding);
  }

  /** Queries at one node and gives where the element came from. */
  private step(
    node: string,
    port: string,
    index: number,
    overriding: Map<string, string>,
  ): { node: string; port: string; index: number } | null {
    const result = this.memory.get(node);
    const definition = this.flat.definitions.get(node);
    const shape = result && shapeNamed(result.definition.outputs, result.outputs, port);
    const domain = elementsIn(shape);
    if (!result || !definition || !domain || this.nodes[node]?.outputs[port]) return null;
    const sights = this.sightsOf(node);
    const after = sightOf(domain, index);
    sights.outputs[port] = after;
    const origin = originOf(result, shape, domain, index, definition.inputs);
    // Fields run on the elements that come in; where none does, on those that are made.
    const fieldDomain = origin?.domain ?? domain;
    const fieldIndex = origin?.index ?? index;
    this.lookAtFields(node, result, fieldDomain, fieldIndex);
    this.lookAtForces(node, result, domain, index);
    if (!origin) return null;
    const before = sightOf(origin.domain, origin.index);
    sights.inputs[origin.input] = before;
    this.compare(node, before, after, overriding);
    for (const attribute of this.overriddenAt(node, result))
      overriding.set(attribute, overriding.get(attribute) ?? node);
    const links = this.index.into.get(node)?.get(origin.input) ?? [];
    const { from } = links[Math.min(origin.link, links.length - 1)] ?? {};
    return from ? { node: from.node, port: from.port, index: origin.index } : null;
  }

  private lookAtForces(
    node: string,
    { inputs, definition }: Remembered,
    domain: Domain,
    index: number,
  ): void {
    for (const [name, { kind }] of Object.entries<AnyInput>(definition.inputs)) {
      if (kind !== "forces") continue;
      const links = this.index.into.get(node)?.get(name) ?? [];
      const list = (inputs[name] as readonly Parts[]).filter(({ what }) => what !== "nothing");
      const nodes = links.map(({ from }) => from.node);
      this.forces.push(...forceSights(list, nodes.length === list.length ? nodes : [], domain, index));
    }
  }

  private compare(
    node: string,
    before: Extract<Sight, { kind: "element" }>,
    after: Extract<Sight, { kind: "element" }>,
    overriding: ReadonlyMap<string, string>,
  ): void {
    for (const [attribute, fallback] of Object.entries(WATCHED)) {
      const [from, to] = [before, after].map((sight) => sight.attributes[attribute] ?? fallback);
      if (from.every((part, i) => part === to[i])) continue;
      this.changes.push({
        node,
        attribute,
        before: from,
        after: to,
        overriddenBy: overriding.get(attribute) ?? null,
      });
    }
  }

  /** Attributes that a node sets whatever they were, by its inputs as they are at the element. */
  private overriddenAt(node: string, { inputs }: Remembered): readonly string[] {
    const definition = this.flat.definitions.get(node);
    if (!definition?.overrides) return [];
    const at: Record<string, unknown> = { ...inputs };
    for (const [name, sight] of Object.entries(this.sightsOf(node).inputs))
      if (sight.kind === "value") at[name] = sight.value.length === 1 ? sight.value[0] : sight.value;
    return definition.overrides(at);
  }

  /** The values of a node's fields at an element, and of all that they are made of. */
  private lookAtFields(node: string, { inputs }: Remembered, domain: Domain, index: number): void {
    const definition = this.flat.definitions.get(node);
    for (const [name, input] of Object.entries<AnyInput>(definition?.inputs ?? {})) {
      const values = valuesOf(inputs[name]);
      if (!values || input.kind === "shape") continue;
      const sight = valueAt(values, domain, index);
      this.sightsOf(node).inputs[name] = sight;
      for (const { from } of this.index.into.get(node)?.get(name) ?? [])
        this.lookAtSource(from.node, from.port, domain, index);
    }
  }

  private lookAtSource(node: string, port: string, domain: Domain, index: number): void {
    const result = this.memory.get(node);
    const values = result && valuesOf(carriedBy(this.flat.definitions.get(node), port, result)?.value);
    if (!result || !values) return;
    const sights = this.sightsOf(node);
    const seen = Object.keys(sights.outputs).length > 0;
    sights.outputs[port] ??= valueAt(values, domain, index);
    if (!seen) this.lookAtFields(node, result, domain, index);
  }

  private sightsOf(node: string): Sights {
    this.nodes[node] ??= { inputs: {}, outputs: {} };
    return this.nodes[node];
  }
}

/** The values of a field input; null for all other inputs. */
function valuesOf(input: unknown): readonly Value[] | null {
  if (isValue(input)) return [input];
  return Array.isArray(input) && input.length > 0 && input.every(isValue) ? input : null;
}

function valueAt(values: readonly Value[], domain: Domain, index: number): Sight {
  const plain = plainNumbers(values);
  if (plain) return { kind: "value", value: plain };
  const elements = Int32Array.of(index);
  const { lanes } = runValues(values, gather(domain, elements), {
    sampleOf: { elements, count: domain.count },
  });
  return { kind: "value", value: lanes.map((lane) => lane[0]) };
}

function sightOf(domain: Domain, index: number): Extract<Sight, { kind: "element" }> {
  const attributes = Object.fromEntries(
    Object.entries(domain.columns).map(([name, { lanes }]) => [name, lanes.map((lane) => lane[index])]),
  );
  return { kind: "element", index, id: domain.columns.id?.lanes[0][index] ?? index, attributes };
}

interface Origin {
  readonly input: string;
  /** Number of the link into the input. */
  readonly link: number;
  readonly domain: Domain;
  readonly index: number;
}

/**
 * The element of an input that an element of an output was: the one at its place with its id, else the only one with its
 * id; among several shapes that follow each other, by place.
 */
function originOf(
  { inputs }: Remembered,
  shape: Shape | undefined,
  made: Domain,
  index: number,
  declared: Readonly<Record<string, AnyInput>>,
): Origin | null {
  const id = made.columns.id?.lanes[0][index];
  for (const [input, { kind, many }] of Object.entries(declared)) {
    if (kind !== "shape") continue;
    const shapes = (many ? inputs[input] : [inputs[input]]) as readonly Shape[];
    const domains = shapes.map((came) => elementsIn(came, shape));
    const total = domains.reduce((sum, domain) => sum + (domain?.count ?? 0), 0);
    if (many && total !== made.count) continue;
    let begin = 0;
    for (const [link, domain] of domains.entries()) {
      const count = domain?.count ?? 0;
      const at = many ? index - begin : domain ? placeIn(domain, index, id) : -1;
      if (domain && at >= 0 && at < count) return { input, link, domain, index: at };
      begin += count;
    }
  }
  return null;
}

function placeIn(domain: Domain, index: number, id: number | undefined): number {
  const ids = domain.columns.id?.lanes[0];
  if (!ids || id === undefined) return index < domain.count ? index : -1;
  return ids[index] === id ? index : ids.indexOf(id);
}
