/** One pass over the nodes of one evaluation: what is known is taken, the rest is worked out, here or by helpers. */
import { tick } from "../cancelling";
import type { FlatGraph } from "../capsules/flatten";
import { type GraphIndex, indexGraph, sourcesOf } from "../document/links";
import type { GraphNode, PieceDocument } from "../document/schema";
import { column } from "../fields/expression";
import { ProgramTooLong } from "../fields/program";
import type { Lane } from "../geometry/column";
import { EMPTY_SHAPE, tallyOf } from "../geometry/shape";
import { helpers } from "../kernels/helpers";
import { OutOfMemory } from "../kernels/memory";
import { keyedBy, settingsAt } from "../keys/track";
import { type AnyInput, type AnyNode, NodeError, type Problem } from "../nodes/define";
import { Past } from "../simulate/past";
import { type Simulation, stepsFrom, type Track } from "../simulate/simulation";
import type { State, Stepping } from "../simulate/state";
import { fingerprintOf, shapesAmong } from "../values/kinds";
import { ancestryKey, ancestryOf } from "./ancestry";
import { Branches, canBranch, type Made } from "./branches";
import { type Budget, checkBudget, DEFAULT_BUDGET, MemoryTally } from "./budget";
import { carriedBy } from "./carried";
import { convertLinked, linkFault } from "./convert";
import type { Remembered, ResultMemory } from "./memory";
import { type AssetLookup, assetMark, Cancelled, type EvaluateOptions, TookTooLong } from "./options";
import type { NodeReport } from "./report";
import { type Elsewhen, NodeScope } from "./scope";
import { resolveSetting } from "./settings";

export type Outcome = { readonly ok: true; readonly result: Remembered } | { readonly ok: false };

const NO_ASSETS: AssetLookup = (name) => ({ ok: false, message: `There is no asset "${name}".` });

export const failedReport = (problems: readonly Problem[]): NodeReport => ({
  state: "failed",
  ms: 0,
  why: "It failed.",
  problems,
});

/** Milliseconds from which a node is worth another thread. */
const HEAVY_FROM = 4;
/** Guesses for a node that has not run yet. */
const ELEMENTS_A_MILLISECOND = 10_000;
const BYTES_AN_ELEMENT = 80;

/** What all passes of an evaluation have in common. */
export interface Carrying {
  readonly simulation: Simulation;
  /** Every lane that somebody may still read. */
  readonly published: () => Iterable<Lane>;
}

/** One pass over the nodes of one evaluation. */
export class Run {
  private readonly outcomes = new Map<string, Outcome>();
  private readonly index: GraphIndex;
  private readonly held: MemoryTally;
  private readonly branches = new Branches();
  private readonly keyed = new Map<string, GraphNode>();
  /** Nodes after the present one. */
  private later: readonly string[] = [];
  /** All nodes of this pass, sources first. */
  private order: readonly string[] = [];
  /** Why nodes cannot be stepped to this frame, by id; null until they have been caught up with. */
  private blocked: Map<string, Error> | null = null;
  /** The time limit was passed. */
  stopped = false;
  /** Nodes that are only stepped in this pass: nothing needs what they give. */
  private onlySteps: ReadonlySet<string> | null = null;

  constructor(
    private readonly document: PieceDocument,
    private readonly frame: number,
    private readonly options: EvaluateOptions,
    private readonly flat: FlatGraph,
    private readonly memory: ResultMemory,
    private readonly carrying: Carrying,
    private readonly reports: Record<string, NodeReport>,
    private readonly now: () => number,
  ) {
    this.index = indexGraph(flat.graph);
    this.held = new MemoryTally(this.budget.bytes);
  }

  private get budget(): Budget {
    return this.options.budget ?? DEFAULT_BUDGET;
  }

  private get assets(): AssetLookup {
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
    if (known && this.isCurrent(known, key) && !this.lacksState(node.id, definition)) {
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
      ...(definition.otherFrames ? { at: this.elsewhen(node.id, () => inputs) } : {}),
      ...(definition.stepping
        ? { carried: <S extends State>() => this.carried(node, definition, inputs) as S }
        : {}),
      ...(definition.ownKeys ? { keysOf: (input) => keyedBy(node, definition, input) } : {}),
    });
    try {
      inputs = this.resolveInputs(node, definition, scope);
      if (this.onlySteps?.has(node.id)) {
        this.carried(node, definition, inputs);
        return { ok: false };
      }
      const made = this.fromBranch(node, scope) ?? {
        outputs: node.bypass ? bypassed(definition, inputs) : this.runNode(node, definition, inputs, scope),
        problems: scope.problems,
        readTime: scope.readTime,
        domains: scope.domains,
        ms: this.now() - begun,
      };
      const { outputs, problems, readTime, domains, ms } = made;
      const bytes = this.hold(definition, outputs);
      const moment = readTime ? this.moment : undefined;
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
    checkBudget(definition, inputs, settable, this.budget);
    if (this.isHeavy(node, definition, inputs)) this.branchOut();
    return definition.evaluate(inputs, scope);
  }

  /** How a node gets at its inputs at other frames; `now` gives those of this one. */
  private elsewhen(id: string, now: () => Record<string, unknown>): NonNullable<Elsewhen["at"]> {
    const ancestry = ancestryOf(this.flat, this.document, id);
    const past = this.memory.pastOf(id, () => new Past(this.carrying.published));
    return <I, T>(frame: number, read: (inputs: I) => T): T =>
      frame === this.frame
        ? read(now() as I)
        : past.look((memory) => this.inputsAt(id, ancestry.order, frame, memory) as I, read);
  }

  /** The state of a node at this frame, which its inputs have been worked out for. */
  private carried(node: GraphNode, definition: AnyNode, inputs: Record<string, unknown>): State {
    const { simulation } = this.carrying;
    const stepping = definition.stepping as Stepping<unknown>;
    const track = this.trackOf(node.id, definition);
    if (!simulation.isReady(track, this.frame)) {
      this.blocked ??= this.catchUp();
      const why = this.blocked.get(node.id);
      if (why) throw why;
    }
    const { seed, fps } = this.document.settings;
    const step = { frame: this.frame, seed, node: node.id };
    return simulation.advance(
      track,
      this.frame,
      () => stepping.start(inputs, step),
      (before, frames) => stepping.step(before, inputs, { ...step, seconds: frames / fps }),
    );
  }

  /** What is passed through for its states has to be stepped, though its result is known: the state may have been given up. */
  private lacksState(id: string, { stepping }: AnyNode): boolean {
    return (
      stepping !== undefined &&
      this.onlySteps !== null &&
      this.carrying.simulation.state(id, this.frame) === undefined
    );
  }

  private trackOf(id: string, definition: AnyNode): Track {
    const key = ancestryKey(ancestryOf(this.flat, this.document, id), this.assets);
    return this.carrying.simulation.trackOf(id, key, () => {
      const { first } = this.document.settings;
      const runUp = definition.stepping?.runUp;
      if (!runUp) return first;
      const node = this.index.nodes.get(id) as GraphNode;
      const still = !node.keys?.[runUp] && this.linksInto(id, runUp).length === 0;
      // What moves or comes from elsewhere is read once, at the first frame, so that there is one beginning.
      const inputs = still
        ? { [runUp]: node.set[runUp] ?? definition.inputs[runUp].default }
        : this.room().look(
            (memory) => this.inputsAt(id, ancestryOf(this.flat, this.document, id).order, first, memory),
            (read) => read,
          );
      return first - Math.max(0, Math.round(Number(inputs[runUp]) || 0));
    });
  }

  /** Room for frames that are gone through for the sake of states. */
  private room(): Past {
    return this.memory.pastOf("", () => new Past(this.carrying.published));
  }

  /** Steps everything of this pass that is not ready up to where this frame can be worked out. */
  private catchUp(): Map<string, Error> {
    const { simulation } = this.carrying;
    const blocked = new Map<string, Error>();
    const steps = (id: string) =>
      this.flat.definitions.get(id)?.stepping !== undefined && !this.index.nodes.get(id)?.bypass;
    const tracks = new Map(
      this.order
        .filter(steps)
        .map((id) => [id, this.trackOf(id, this.flat.definitions.get(id) as AnyNode)] as const),
    );
    const until = stepsFrom(this.frame);
    const isReady = (track: Track) => simulation.isReady(track, this.frame);
    let wanted = [...tracks.values()].filter((track) => !isReady(track));
    if (wanted.length === 0) return blocked;
    const needed = new Set(wanted.flatMap(({ node }) => ancestryOf(this.flat, this.document, node).order));
    const order = this.order.filter((id) => needed.has(id));
    const before = new Set(order.flatMap((id) => sourcesOf(this.index, id)));
    const onlySteps = new Set(wanted.map(({ node }) => node).filter((id) => !before.has(id)));
    const all = order.flatMap((id) => tracks.get(id) ?? []);
    let frame = simulation.firstToStep(wanted, all, until);
    const { checkpoints } = simulation;
    checkpoints.hold(frame);
    try {
      while (wanted.length > 0 && frame <= until) {
        this.options.stepped?.(frame, until + 1);
        const reports = this.passThrough(frame, order, onlySteps);
        wanted = wanted.filter((track) => {
          if (frame < track.begin || simulation.state(track.node, frame)) return true;
          blocked.set(track.node, this.whyNot(track.node, frame, reports));
          return false;
        });
        // The next frame is stepped from this one, whatever is looked at on the way.
        checkpoints.hold(frame + 1);
        checkpoints.letGo(frame++);
      }
    } finally {
      checkpoints.letGo(frame);
    }
    return blocked;
  }

  /** Works a frame out for what it leaves in states. */
  private passThrough(
    frame: number,
    order: readonly string[],
    onlySteps: ReadonlySet<string>,
  ): Readonly<Record<string, NodeReport>> {
    return this.room().pass((memory) => {
      const run = this.runAt(frame, memory, order);
      run.onlySteps = onlySteps;
      run.inOrder(order);
      if (run.stopped) throw new TookTooLong(this.options.timeLimit ?? 0);
      return run.reports;
    });
  }

  /** A pass at another frame. */
  private runAt(frame: number, memory: ResultMemory, order: readonly string[]): Run {
    const { target, inspect, stepped, ...options } = this.options;
    const alone = { ...options, heavyFrom: Number.POSITIVE_INFINITY };
    memory.keepOnly(new Map([...order, ""].map((id) => [id, true])));
    return new Run(this.document, frame, alone, this.flat, memory, this.carrying, {}, this.now);
  }

  private whyNot(id: string, frame: number, reports: Readonly<Record<string, NodeReport>>): Error {
    const errorOf = (of: string) => reports[of]?.problems.find(({ level }) => level === "error");
    const own = errorOf(id);
    if (own) return new NodeError(own.what, own.input, own.repair);
    const failed = Object.keys(reports).filter(errorOf);
    const { order } = ancestryOf(this.flat, this.document, id);
    const first = order.find((other) => failed.includes(other)) ?? id;
    return new NodeError(
      `At frame ${frame} "${first}" could not be worked out: ${errorOf(first)?.what ?? "it waits"}`,
    );
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
    const made = this.branches.has(node.id) ? this.branches.finish(node.id) : null;
    return made && { ...made, problems: [...scope.problems, ...made.problems] };
  }

  /** By what it took the last time, else by what it says it will. */
  private isHeavy(node: GraphNode, definition: AnyNode, inputs: Readonly<Record<string, unknown>>): boolean {
    const { heavyFrom = HEAVY_FROM } = this.options;
    const known = this.memory.get(node.id);
    if (known) return known.ms >= heavyFrom;
    const { sites = 0, points = 0, milliseconds = 0 } = definition.cost?.(inputs) ?? {};
    return Math.max(milliseconds, (sites + points) / ELEMENTS_A_MILLISECOND) >= heavyFrom;
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
      if (known && this.isCurrent(known, this.keyOf(node, definition))) continue;
      try {
        const inputs = this.resolveInputs(
          node,
          definition,
          new NodeScope(id, this.document, this.frame, null),
        );
        checkBudget(definition, inputs, [], this.budget);
        if (!this.isHeavy(node, definition, inputs)) continue;
        const { sites = 0, points = 0 } = definition.cost?.(inputs) ?? {};
        const bytes = (sites + points) * BYTES_AN_ELEMENT;
        if (!this.branches.begin(id, node.type, inputs, this.document.settings, this.frame, bytes)) return;
      } catch {}
    }
  }

  /** All that a node reads when it reads the time. */
  private get moment(): string {
    const { fps, first, last } = this.document.settings;
    return [this.frame, fps, first, last].join(" ");
  }

  /** Whether what is known of a node is still so, for its key at this frame. */
  private isCurrent(known: Remembered, key: string): boolean {
    return known.key === key && (known.moment === undefined || known.moment === this.moment);
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
    if (definition.otherFrames || definition.stepping)
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
      const arriving = this.linksInto(node.id, name).flatMap((link) =>
        this.arrive(name, input, link.from, scope),
      );
      if (input.many) resolved[name] = arriving;
      else if (arriving.length > 0) resolved[name] = arriving[0];
      else resolved[name] = this.unlinked(name, input, node.set[name] ?? input.default);
    }
    return resolved;
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
    // Several shapes travel together through the border of a capsule.
    if (Array.isArray(carried.value) && carried.kind === "shape")
      return input.many ? carried.value : carried.value.slice(0, 1);
    return [convertLinked(name, input, carried.kind, carried.value)];
  }

  private unlinked(name: string, input: AnyInput, setting: unknown): unknown {
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
      return asset.content;
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

function problemOf(error: unknown, title: string): Problem {
  if (error instanceof NodeError) {
    return { level: "error", what: error.message, input: error.input, repair: error.repair };
  }
  if (error instanceof TookTooLong) return { level: "error", what: error.message };
  if (error instanceof ProgramTooLong) {
    return {
      level: "error",
      what: `${error.message} Store it as an attribute half-way, or use fewer steps.`,
    };
  }
  if (error instanceof OutOfMemory) return { level: "error", what: error.message };
  // Engines throw these where there is no room for an array, or calls go too deep.
  if (error instanceof RangeError)
    return { level: "error", what: "There is not enough memory for this. Ask for fewer elements." };
  const detail = error instanceof Error ? error.message : String(error);
  return { level: "error", what: `${title} failed unexpectedly: ${detail}` };
}

/** The first input of each output's kind, passed on. */
function bypassed(definition: AnyNode, inputs: Readonly<Record<string, unknown>>): Record<string, unknown> {
  const outputs: Record<string, unknown> = {};
  for (const [name, output] of Object.entries(definition.outputs)) {
    const { kind } = output as { kind: string };
    const source = Object.entries(definition.inputs).find(([, input]) => {
      const declared = input as AnyInput;
      return declared.kind === kind && (declared.perElement || kind === "shape");
    });
    if (!source) throw new NodeError(`It cannot be bypassed: no input can stand in for "${name}".`);
    const value = inputs[source[0]];
    outputs[name] = (source[1] as AnyInput).many ? ((value as unknown[])[0] ?? EMPTY_SHAPE) : value;
  }
  return outputs;
}
