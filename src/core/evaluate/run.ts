/** One pass over the nodes of one evaluation: what is known is taken, the rest is worked out, here or by helpers. */
import { tick } from "../cancelling";
import type { FlatGraph } from "../capsules/flatten";
import { bentShape } from "../curves/beziers";
import { type GraphIndex, indexGraph, orderFrom, sourcesOf } from "../document/links";
import type { GraphNode, PieceDocument } from "../document/schema";
import { column } from "../fields/expression";
import { forKernels } from "../geometry/copy";
import { EMPTY_SHAPE, type Shape, tallyOf } from "../geometry/shape";
import { helpers } from "../kernels/helpers";
import { keyedBy, settingsAt } from "../keys/track";
import { type AnyInput, type AnyNode, type AnyOutput, NodeError } from "../nodes/define";
import { HANDED_ON, type PortKind } from "../nodes/ports";
import { stepsFrom } from "../simulate/simulation";
import type { State } from "../simulate/state";
import { TimeCache } from "../simulate/time-cache";
import { bytesOfValues, fingerprintOf, shapesAmong } from "../values/kinds";
import { ancestryKey, ancestryOf } from "./ancestry";
import { Branches, canBranch, type Made } from "./branches";
import { type Budget, checkBudget, DEFAULT_BUDGET, formatCount, MemoryTally } from "./budget";
import { bypassed } from "./bypass";
import { carriedBy } from "./carried";
import { convertLinked, linkFault } from "./convert";
import { checkLibraries } from "./libraries";
import type { Remembered, ResultMemory } from "./memory";
import { type AssetLookup, assetMark, Cancelled, type EvaluateOptions, TookTooLong } from "./options";
import { failedReport, problemOf } from "./problems";
import type { NodeReport } from "./report";
import { type Declared, NodeScope } from "./scope";
import { resolveSetting } from "./settings";
import { type Carrying, type Given, type OtherPass, PASSING, type Pass, Stepper } from "./stepper";

export type Outcome = { readonly ok: true; readonly result: Remembered } | { readonly ok: false };

const bent = (value: Shape | readonly Shape[]): Shape | readonly Shape[] =>
  Array.isArray(value) ? value.map(bentShape) : bentShape(value as Shape);

const NO_ASSETS: AssetLookup = (name) => ({ ok: false, message: `There is no asset "${name}".` });

/** Milliseconds from which a node is worth another thread. */
const HEAVY_FROM = 4;
/** Guesses for a node that has not run yet. */
const ELEMENTS_A_MILLISECOND = 10_000;
const BYTES_AN_ELEMENT = 80;

/** Kinds of which an input may take several; fields are lists of their components besides. */
const MANY_TRAVEL: ReadonlySet<PortKind> = new Set<PortKind>(["shape", ...HANDED_ON]);

/** One pass over the nodes of one evaluation. */
export class Run implements Pass {
  private readonly outcomes = new Map<string, Outcome>();
  readonly index: GraphIndex;
  private readonly held: MemoryTally;
  private readonly branches = new Branches();
  private readonly keyed = new Map<string, GraphNode>();
  /** Nodes after the present one. */
  private later: readonly string[] = [];
  /** All nodes of this pass, sources first. */
  order: readonly string[] = [];
  given: Given = new Map();
  private readonly stepper = new Stepper(this);
  /** The time limit was passed. */
  stopped = false;
  /** Nodes that are only stepped in this pass: nothing needs what they give. */
  private onlySteps: ReadonlySet<string> | null = null;

  constructor(
    readonly document: PieceDocument,
    readonly frame: number,
    readonly options: EvaluateOptions,
    readonly flat: FlatGraph,
    readonly memory: ResultMemory,
    readonly carrying: Carrying,
    readonly reports: Record<string, NodeReport>,
    private readonly now: () => number,
  ) {
    this.index = indexGraph(flat.graph);
    this.held = new MemoryTally(this.budget.bytes);
  }

  private get budget(): Budget {
    return this.options.budget ?? DEFAULT_BUDGET;
  }

  get assets(): AssetLookup {
    return this.options.assets ?? NO_ASSETS;
  }

  /** The outcome of the last one. */
  inOrder(ids: readonly string[]): Outcome {
    let outcome: Outcome = { ok: false };
    this.order = ids;
    const { checkpoints } = this.carrying.simulation;
    checkpoints.hold(stepsFrom(this.frame));
    try {
      for (const [at, id] of ids.entries()) {
        this.later = ids.slice(at + 1);
        outcome = this.inTime(id);
        this.outcomes.set(id, outcome);
        if (this.stopped) return { ok: false };
      }
      return outcome;
    } finally {
      checkpoints.letGo(stepsFrom(this.frame));
      this.branches.stop();
    }
  }

  /** Time may be up before a node has begun: it is told of then, as those are that run out of it. */
  private inTime(id: string): Outcome {
    try {
      tick(Number.POSITIVE_INFINITY);
      return this.workOut(this.nodeAt(id));
    } catch (error) {
      if (!(error instanceof TookTooLong)) throw error;
      this.stopped = true;
      this.reports[id] = failedReport([problemOf(error, id)]);
      return { ok: false };
    }
  }

  /** The node as it is set at this frame. */
  private nodeAt(id: string): GraphNode {
    const node = this.index.nodes.get(id) as GraphNode;
    const definition = this.flat.definitions.get(id);
    if (!node.keys || !definition) return node;
    const known = this.keyed.get(id) ?? { ...node, set: settingsAt(node, definition, this.frame) };
    this.keyed.set(id, known);
    return known;
  }

  private workOut(node: GraphNode): Outcome {
    const definition = this.flat.definitions.get(node.id);
    if (!definition) return { ok: false };
    const waiting = this.failedSource(node.id);
    if (waiting) {
      this.reports[node.id] = {
        state: "waiting",
        ms: 0,
        why: `It waits for "${waiting}".`,
        problems: [],
      };
      return { ok: false };
    }
    const key = this.keyOf(node, definition);
    const known = this.memory.get(node.id);
    // What is passed through for its states is stepped though its result is known.
    const hasToStep = this.onlySteps !== null && this.stepper.lacksState(node.id, definition);
    if (known && this.isCurrent(node.id, known, key) && !hasToStep) {
      const bytes = this.hold(definition, known.outputs);
      this.report(node, known, "reused", "Nothing it depends on has changed.", bytes);
      return { ok: true, result: known };
    }
    const why = !known
      ? "It had not run yet."
      : known.key === key
        ? "The frame changed."
        : "Something it depends on changed.";
    return this.evaluateNode(node, definition, key, why);
  }

  private evaluateNode(node: GraphNode, definition: AnyNode, key: string, why: string): Outcome {
    const begun = this.now();
    let inputs: Record<string, unknown> = {};
    const scope = new NodeScope(node.id, this.document, this.frame, this.memory.get(node.id)?.left ?? null, {
      ...(definition.otherFrames
        ? { at: this.atOtherFrames(node.id, () => inputs), isStill: () => this.isStill(node.id) }
        : {}),
      ...(definition.stepping
        ? { carried: <S extends State>() => this.stepper.carried(node.id, definition, inputs) as S }
        : {}),
      ...(definition.readsBefore ? { before: (substeps) => this.stepper.before(node.id, substeps) } : {}),
      ...(definition.ownKeys ? { keysOf: (input) => keyedBy(node, definition, input) } : {}),
    });
    try {
      inputs = this.resolveInputs(node, definition, scope);
      if (this.onlySteps?.has(node.id)) {
        this.stepper.carried(node.id, definition, inputs);
        return { ok: false };
      }
      const made = this.fromBranch(node, scope) ?? {
        outputs: node.bypass ? bypassed(definition, inputs) : this.runNode(node, definition, inputs, scope),
        problems: scope.problems,
        readTime: scope.readTime,
        domains: scope.domains,
        keeps: scope.left !== null,
        ms: this.now() - begun,
      };
      const { outputs, problems, readTime, domains, keeps, ms } = made;
      const bytes = this.hold(definition, outputs);
      const moment = readTime ? this.momentOf(node.id) : undefined;
      const result: Remembered = {
        definition,
        key,
        moment,
        inputs,
        outputs,
        problems,
        ms,
        domains,
        left: scope.left,
        keeps,
      };
      this.memory.set(node.id, result);
      this.report(node, result, node.bypass ? "bypassed" : "ran", why, bytes);
      return { ok: true, result };
    } catch (error) {
      if (error instanceof Cancelled) throw error;
      this.stopped = error instanceof TookTooLong;
      this.memory.delete(node.id);
      this.reports[node.id] = failedReport([problemOf(error, definition.title), ...scope.problems]);
      return { ok: false };
    }
  }

  private runNode(
    node: GraphNode,
    definition: AnyNode,
    inputs: Readonly<Record<string, unknown>>,
    scope: NodeScope,
  ): Readonly<Record<string, unknown>> {
    const settable = Object.keys(definition.inputs).filter(
      (name) => typeof inputs[name] === "number" && !this.linksInto(node.id, name).length,
    );
    checkLibraries(definition);
    checkBudget(definition, inputs, settable, this.budget);
    if (this.isHeavy(node, definition, inputs)) this.branchOut();
    const outputs = definition.evaluate(inputs, scope);
    // What has no shape to work on is made once and stays, mostly.
    return Object.values(definition.inputs as Record<string, AnyInput>).some(({ kind }) => kind === "shape")
      ? outputs
      : Object.fromEntries(
          Object.entries(outputs).map(([name, value]) => [name, this.placed(definition, name, value)]),
        );
  }

  private placed(definition: AnyNode, output: string, value: unknown): unknown {
    return (definition.outputs as Record<string, AnyOutput>)[output]?.kind === "shape"
      ? forKernels(value as Shape)
      : value;
  }

  /** How a node gets at its inputs at other frames; `now` gives those of this one. */
  private atOtherFrames(id: string, now: () => Record<string, unknown>): NonNullable<Declared["at"]> {
    const ancestry = ancestryOf(this.flat, this.document, id);
    const cache = this.memory.timeCacheOf(id, () => new TimeCache(this.carrying.published));
    return <I, T>(frame: number, read: (inputs: I) => T): T =>
      frame === this.frame
        ? read(now() as I)
        : cache.at((memory) => this.inputsAt(id, ancestry.order, frame, memory) as I, read);
  }

  /** Whether nothing before a node has read the time or has keys. */
  private isStill(id: string): boolean {
    return ancestryOf(this.flat, this.document, id).order.every((other) => {
      const known = this.memory.get(other);
      return (
        other === id ||
        (known !== undefined && known.moment === undefined && !this.index.nodes.get(other)?.keys)
      );
    });
  }

  /** Works a frame out for what it leaves in states. */
  passThrough({ frame, memory, order, onlySteps, given }: OtherPass): Pick<Run, "reports" | "stopped"> {
    const run = this.runAt(frame, memory, order);
    run.onlySteps = onlySteps;
    run.given = given;
    run.inOrder(order);
    return run;
  }

  /** What one input of a node is at another frame. */
  inputAt(id: string, name: string, frame: number, memory: ResultMemory): unknown {
    const sources = this.linksInto(id, name).map(({ from }) => from.node);
    const found = orderFrom(this.index, sources);
    const order = found.ok ? found.order : [];
    const run = this.runAt(frame, memory, order);
    run.inOrder(order);
    const definition = this.flat.definitions.get(id) as AnyNode;
    return run.resolveInput(
      run.nodeAt(id),
      name,
      definition.inputs[name],
      new NodeScope(id, this.document, frame, null),
    );
  }

  /** A pass at another frame. */
  private runAt(frame: number, memory: ResultMemory, order: readonly string[]): Run {
    const { target, inspect, stepped, ...options } = this.options;
    const alone = { ...options, heavyFrom: Number.POSITIVE_INFINITY };
    memory.keepOnly(new Map([...order, PASSING].map((id) => [id, true])));
    return new Run(this.document, frame, alone, this.flat, memory, this.carrying, {}, this.now);
  }

  /** Works out at another frame what a node needs. */
  private inputsAt(
    id: string,
    order: readonly string[],
    frame: number,
    memory: ResultMemory,
  ): Record<string, unknown> {
    const run = this.runAt(frame, memory, order);
    run.inOrder(order.filter((other) => other !== id));
    if (run.stopped) throw new TookTooLong(this.options.timeLimit ?? 0);
    const failed = run.failedSource(id);
    if (failed) {
      const why = Object.values(run.reports).flatMap(({ problems }) =>
        problems.filter((p) => p.level === "error"),
      );
      throw new NodeError(
        `At frame ${frame} "${failed}" could not be worked out: ${why[0]?.what ?? "it waits"}`,
      );
    }
    const definition = this.flat.definitions.get(id) as AnyNode;
    const scope = new NodeScope(id, this.document, frame, null);
    return run.resolveInputs(run.nodeAt(id), definition, scope);
  }

  private fromBranch(node: GraphNode, scope: NodeScope): Made | null {
    if (!this.branches.has(node.id)) return null;
    const made = this.branches.finish(node.id, (bytes) =>
      scope.note(
        `It needs more than the ${formatCount(bytes / 2 ** 20)} MB that were set aside for it on another thread, and was worked out again on this one.`,
      ),
    );
    return made && { ...made, problems: [...scope.problems, ...made.problems] };
  }

  /** By what it took the last time, else by what it says it will. */
  private isHeavy(node: GraphNode, definition: AnyNode, inputs: Readonly<Record<string, unknown>>): boolean {
    const { heavyFrom = HEAVY_FROM } = this.options;
    const known = this.memory.get(node.id);
    if (known) return known.ms >= heavyFrom;
    const { sites = 0, points = 0, faces = 0, milliseconds = 0 } = definition.cost?.(inputs) ?? {};
    return Math.max(milliseconds, (sites + points + faces) / ELEMENTS_A_MILLISECOND) >= heavyFrom;
  }

  /** Gives heavy nodes that are ready and have to run to helpers. What is wrong with one is told when its turn comes. */
  private branchOut(): void {
    if (!helpers()) return;
    for (const id of this.later) {
      const node = this.nodeAt(id);
      const definition = this.flat.definitions.get(id);
      if (!definition || node.bypass || !canBranch(definition) || this.branches.has(id)) continue;
      if (sourcesOf(this.index, id).some((source) => !this.outcomes.get(source)?.ok)) continue;
      const known = this.memory.get(id);
      if (known?.keeps || (known && this.isCurrent(id, known, this.keyOf(node, definition)))) continue;
      try {
        const inputs = this.resolveInputs(
          node,
          definition,
          new NodeScope(id, this.document, this.frame, null),
        );
        checkBudget(definition, inputs, [], this.budget);
        if (!this.isHeavy(node, definition, inputs)) continue;
        const { sites = 0, points = 0, faces = 0 } = definition.cost?.(inputs) ?? {};
        const guessed = (sites + points + faces) * BYTES_AN_ELEMENT;
        const before = known ? bytesOfValues(definition.outputs, known.outputs) : 0;
        const bytes = Math.max(guessed, before);
        if (!this.branches.begin(id, node.type, inputs, this.document.settings, this.frame, bytes)) return;
      } catch {}
    }
  }

  /** All that a node reads when it reads the time. */
  private momentOf(id: string): string {
    const { fps, first, last } = this.document.settings;
    // One moment may be reached by steps of several lengths.
    const { seconds, number } = this.given.get(this.flat.loops.get(id) ?? "") ?? {};
    return [this.frame, fps, first, last, seconds, number].join(" ");
  }

  /** Whether what is known of a node is still so, for its key at this frame. */
  private isCurrent(id: string, known: Remembered, key: string): boolean {
    return known.key === key && (known.moment === undefined || known.moment === this.momentOf(id));
  }

  /** Counts what outputs hold; gives the bytes that were not held before. */
  private hold(definition: AnyNode, outputs: Readonly<Record<string, unknown>>): number {
    const before = this.held.bytes;
    for (const shape of shapesAmong(definition.outputs, outputs)) this.held.add(shape);
    return this.held.bytes - before;
  }

  /** What all results so far hold. */
  get bytes(): number {
    return this.held.bytes;
  }

  private report(
    node: GraphNode,
    result: Remembered,
    state: NodeReport["state"],
    why: string,
    bytes: number,
  ): void {
    const [shape] = shapesAmong(result.definition.outputs, result.outputs);
    const carried = this.carrying.simulation.checkpoints.bytesOf(node.id);
    this.reports[node.id] = {
      state,
      ms: state === "reused" ? 0 : result.ms,
      lastMs: result.ms,
      why,
      problems: result.problems,
      ...(shape ? { tally: tallyOf(shape), bytes } : {}),
      ...(carried > 0 ? { carried } : {}),
    };
  }

  private linksInto(node: string, input: string) {
    return this.index.into.get(node)?.get(input) ?? [];
  }

  private failedSource(node: string): string | undefined {
    for (const links of this.index.into.get(node)?.values() ?? []) {
      for (const link of links) if (this.outcomes.get(link.from.node)?.ok === false) return link.from.node;
    }
    return undefined;
  }

  /** Everything a result depends on but the frame. */
  private keyOf(node: GraphNode, definition: AnyNode): string {
    const parts = [
      node.type,
      definition.variant ?? "",
      textOf(node.set),
      node.bypass ? "bypass" : "",
      String(this.document.settings.seed),
    ];
    if (definition.ownKeys) parts.push(JSON.stringify(node.keys ?? {}));
    if (definition.otherFrames || definition.stepping || definition.readsBefore)
      parts.push(ancestryKey(ancestryOf(this.flat, this.document, node.id), this.assets));
    for (const [name, input] of Object.entries(definition.inputs as Record<string, AnyInput>)) {
      for (const link of this.linksInto(node.id, name)) {
        parts.push(`${name}<${this.arrivingKey(link.from)}`);
      }
      if (input.kind === "asset") {
        parts.push(assetMark(this.assets, String(node.set[name] ?? input.default ?? "")));
      }
    }
    return parts.join("|");
  }

  private arrivingKey({ node, port }: { node: string; port: string }): string {
    const outcome = this.outcomes.get(node);
    const carried = outcome?.ok ? carriedBy(this.flat.definitions.get(node), port, outcome.result) : null;
    return carried ? `${carried.kind}:${fingerprintOf(carried.kind, carried.value)}` : "?";
  }

  private resolveInputs(node: GraphNode, definition: AnyNode, scope: NodeScope): Record<string, unknown> {
    const resolved: Record<string, unknown> = {};
    const inputs = definition.inputs as Record<string, AnyInput>;
    for (const name of new Set([...Object.keys(node.set), ...Object.keys(node.keys ?? {})])) {
      if (!inputs[name])
        scope.warn(`"${name}" is set, but ${definition.title} has no such input; it is kept and not used.`);
    }
    for (const name of this.index.into.get(node.id)?.keys() ?? []) {
      if (!inputs[name])
        scope.warn(`Something is linked to "${name}", but ${definition.title} has no such input.`);
    }
    for (const [name, input] of Object.entries(inputs)) {
      const value = this.resolveInput(node, name, input, scope);
      const isBent = input.kind === "shape" && !definition.keepsHandles;
      resolved[name] = isBent ? bent(value as Shape | readonly Shape[]) : value;
    }
    return resolved;
  }

  private resolveInput(node: GraphNode, name: string, input: AnyInput, scope: NodeScope): unknown {
    const brought = this.linksInto(node.id, name).flatMap((link) =>
      this.arrive(name, input, link.from, scope),
    );
    if (input.many) return brought;
    return brought.length > 0
      ? brought[0]
      : this.unlinked(name, input, node.set[name] ?? input.default, scope);
  }

  /** What one link brings, in a list; empty when it brings nothing. */
  private arrive(
    name: string,
    input: AnyInput,
    from: { node: string; port: string },
    scope: NodeScope,
  ): unknown[] {
    const outcome = this.outcomes.get(from.node);
    const carried = outcome?.ok
      ? carriedBy(this.flat.definitions.get(from.node), from.port, outcome.result)
      : null;
    if (!carried) {
      scope.warn(`The link into "${name}" comes from "${from.node}.${from.port}", which does not exist.`, {
        input: name,
      });
      return [];
    }
    const fault = linkFault(carried.kind, input.kind);
    if (fault) throw new NodeError(`"${name}": ${fault}`, name);
    // Several of these travel together through the border of a capsule.
    if (Array.isArray(carried.value) && MANY_TRAVEL.has(carried.kind))
      return input.many ? carried.value : carried.value.slice(0, 1);
    return [convertLinked(name, input, carried.kind, carried.value)];
  }

  private unlinked(name: string, input: AnyInput, setting: unknown, scope: NodeScope): unknown {
    if (input.kind === "shape") return EMPTY_SHAPE;
    if (input.kind === "asset") {
      if (!setting) return null;
      const asset = this.assets(String(setting));
      if (!asset.ok) throw new NodeError(asset.message, name);
      if (asset.content.kind !== input.holds)
        throw new NodeError(
          `"${name}" takes a ${input.holds}, and this file holds a ${asset.content.kind}.`,
          name,
        );
      const { content } = asset;
      if ("notes" in content) for (const note of content.notes ?? []) scope.warn(note, { input: name });
      return content;
    }
    if (input.implicit) return [0, 1, 2].map((lane) => column(input.implicit as string, lane));
    return resolveSetting(name, input, setting as never);
  }
}

const texts = new WeakMap<GraphNode["set"], string>();

/** Settings as text; they are never changed, only replaced. */
function textOf(settings: GraphNode["set"]): string {
  let text = texts.get(settings);
  if (text === undefined) texts.set(settings, (text = JSON.stringify(settings)));
  return text;
}
