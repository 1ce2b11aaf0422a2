/**
 * How one pass gets at what is carried from frame to frame: the state of a node at the pass's frame, and what a Step loop gave
 * at the step before. What is missing on the way is caught up with: everything the pass needs is stepped together, a frame
 * after the other.
 */
import type { FlatGraph } from "../capsules/flatten";
import { closedOrder } from "../capsules/loop-order";
import type { GraphIndex } from "../document/links";
import { sourcesOf } from "../document/links";
import type { GraphNode, PieceDocument } from "../document/schema";
import type { Lane } from "../geometry/column";
import { type AnyNode, type Before, NodeError } from "../nodes/define";
import { type Simulation, StateTooLarge, stepsFrom, type Track } from "../simulate/simulation";
import type { State, Stepping } from "../simulate/state";
import { TimeCache } from "../simulate/time-cache";
import { ancestryKey, ancestryOf } from "./ancestry";
import type { ResultMemory } from "./memory";
import { type AssetLookup, type EvaluateOptions, TookTooLong } from "./options";
import type { NodeReport } from "./report";

/** What all passes of an evaluation have in common. */
export interface Carrying {
  readonly simulation: Simulation;
  /** Every lane that somebody may still read. */
  readonly published: () => Iterable<Lane>;
}

/** What Step loops are given in place of what they gave at the frame before, by the node where things leave them. */
export type Given = ReadonlyMap<string, Before>;

/** A pass over the graph at another frame. */
export interface OtherPass {
  readonly frame: number;
  readonly memory: ResultMemory;
  readonly order: readonly string[];
  /** Nodes that are only stepped: nothing needs what they give. */
  readonly onlySteps: ReadonlySet<string>;
  readonly given: Given;
}

/** The pass that a stepper works for. */
export interface Pass {
  readonly document: PieceDocument;
  readonly frame: number;
  readonly options: EvaluateOptions;
  readonly assets: AssetLookup;
  readonly flat: FlatGraph;
  readonly index: GraphIndex;
  readonly memory: ResultMemory;
  readonly carrying: Carrying;
  readonly given: Given;
  /** Nodes of the pass, sources first. */
  readonly order: readonly string[];
  /** Works a frame out for what it leaves in states. */
  passThrough(other: OtherPass): {
    readonly reports: Readonly<Record<string, NodeReport>>;
    readonly stopped: boolean;
  };
  /** What one input of a node is at another frame. */
  inputAt(id: string, name: string, frame: number, memory: ResultMemory): unknown;
}

export class Stepper {
  /** Why nodes cannot be stepped to this frame, by id; null until they have been caught up with. */
  private blocked: Map<string, Error> | null = null;

  constructor(private readonly pass: Pass) {}

  private get simulation(): Simulation {
    return this.pass.carrying.simulation;
  }

  /** The state of a node at this frame, which its inputs have been worked out for. @throws NodeError */
  carried(id: string, definition: AnyNode, inputs: Readonly<Record<string, unknown>>): State {
    const { frame, document } = this.pass;
    const stepping = definition.stepping as Stepping<unknown>;
    const track = this.trackOf(id, definition);
    this.makeReady(track);
    const { seed, fps } = document.settings;
    try {
      return this.simulation.advance(
        track,
        frame,
        () => stepping.start(inputs, { seed, frame, fps }),
        (before, frames) => stepping.step(before, inputs, { seed, seconds: frames / fps, frame, fps }),
      );
    } catch (error) {
      throw error instanceof StateTooLarge ? new NodeError(error.message) : error;
    }
  }

  /** What a Step loop gave at the step before this one. @param entry the node inside that asks @throws NodeError */
  before(entry: string, substeps: number): Before {
    const { flat, frame, document, given } = this.pass;
    const exit = flat.loops.get(entry);
    const definition = exit && flat.definitions.get(exit);
    if (!exit || !definition)
      throw new NodeError("The Step loop has no node where things leave it, so nothing comes back.");
    const known = given.get(exit);
    if (known) return known;
    const { fps } = document.settings;
    const track = this.trackOf(exit, definition);
    if (frame <= track.begin) return { state: null, seconds: 1 / fps / substeps, number: 0 };
    this.makeReady(track);
    const from = stepsFrom(frame);
    const part = (frame - from) / substeps;
    const done = (from - track.begin) * substeps;
    let state = this.simulation.state(exit, from) as State;
    for (let k = 1; k < substeps; k++)
      state = this.subStep(exit, from + part * k, { state, seconds: part / fps, number: done + k });
    return { state, seconds: part / fps, number: done + substeps };
  }

  /** Whether a node has to be stepped though its result is known: the state may have been given up. */
  lacksState(id: string, { stepping }: AnyNode): boolean {
    return stepping !== undefined && this.simulation.state(id, this.pass.frame) === undefined;
  }

  /** One of several steps of a Step loop within a frame. */
  private subStep(exit: string, frame: number, before: Before): State {
    const { flat, given } = this.pass;
    const order = closedOrder(flat, [exit]);
    const reports = this.passThrough(frame, order, new Set([exit]), new Map([...given, [exit, before]]));
    const state = this.simulation.handedTo(exit);
    if (reports[exit] || !state) throw this.whyNot(exit, frame, reports);
    return state;
  }

  private makeReady(track: Track): void {
    if (this.simulation.isReady(track, this.pass.frame)) return;
    this.blocked ??= this.catchUp();
    const why = this.blocked.get(track.node);
    if (why) throw why;
  }

  private trackOf(id: string, definition: AnyNode): Track {
    const { flat, document, assets } = this.pass;
    const key = ancestryKey(ancestryOf(flat, document, id), assets);
    const isLoop = definition.stepping?.comesBack === true;
    return this.simulation.trackOf(id, key, isLoop, () => this.beginOf(id, definition));
  }

  /** The frame at which a node begins. What moves or comes from elsewhere is read once, at the first frame. */
  private beginOf(id: string, definition: AnyNode): number {
    const { index, document } = this.pass;
    const { first } = document.settings;
    const runUp = definition.stepping?.runUp;
    if (!runUp) return first;
    const node = index.nodes.get(id) as GraphNode;
    const still = !node.keys?.[runUp] && !index.into.get(id)?.get(runUp)?.length;
    const frames = still
      ? (node.set[runUp] ?? definition.inputs[runUp].default)
      : this.room().pass((memory) => this.pass.inputAt(id, runUp, first, memory));
    return first - Math.max(0, Math.round(Number(frames) || 0));
  }

  /** Room for frames that are gone through for the sake of states. */
  private room(): TimeCache {
    return this.pass.memory.timeCacheOf(PASSING, () => new TimeCache(this.pass.carrying.published));
  }

  /** Steps everything of this pass that is not ready up to where its frame can be worked out. */
  private catchUp(): Map<string, Error> {
    const { simulation } = this;
    const { flat, frame: wantedFrame, index, options } = this.pass;
    const blocked = new Map<string, Error>();
    const tracks = this.tracksOf(closedOrder(flat, this.pass.order));
    const until = stepsFrom(wantedFrame);
    let wanted = tracks.filter((track) => !simulation.isReady(track, wantedFrame));
    const order = closedOrder(
      flat,
      wanted.map(({ node }) => node),
    );
    const needed = new Set(order.flatMap((id) => sourcesOf(index, id)));
    const onlySteps = new Set(wanted.map(({ node }) => node).filter((id) => !needed.has(id)));
    let frame = simulation.firstToStep(wanted, this.tracksOf(order), until);
    const { checkpoints } = simulation;
    checkpoints.hold(frame);
    try {
      while (wanted.length > 0 && frame <= until) {
        options.stepped?.(frame, until + 1);
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

  private tracksOf(ids: readonly string[]): Track[] {
    const { flat, index } = this.pass;
    return ids.flatMap((id) => {
      const definition = flat.definitions.get(id);
      return definition?.stepping && !index.nodes.get(id)?.bypass ? [this.trackOf(id, definition)] : [];
    });
  }

  private passThrough(
    frame: number,
    order: readonly string[],
    onlySteps: ReadonlySet<string>,
    given: Given = new Map(),
  ): Readonly<Record<string, NodeReport>> {
    const { reports, stopped } = this.room().pass((memory) =>
      this.pass.passThrough({ frame, memory, order, onlySteps, given }),
    );
    if (stopped) throw new TookTooLong(this.pass.options.timeLimit ?? 0);
    return reports;
  }

  private whyNot(id: string, frame: number, reports: Readonly<Record<string, NodeReport>>): Error {
    const errorOf = (of: string) => reports[of]?.problems.find(({ level }) => level === "error");
    const own = errorOf(id);
    if (own) return new NodeError(own.what, own.input, own.repair);
    const first = closedOrder(this.pass.flat, [id]).find(errorOf) ?? id;
    return new NodeError(
      `At frame ${frame} "${first}" could not be worked out: ${errorOf(first)?.what ?? "it waits"}`,
    );
  }
}

/** The name under which a memory of results has room for frames that are gone through: no node has it. */
export const PASSING = "";
