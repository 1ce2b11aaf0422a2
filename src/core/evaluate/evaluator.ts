/**
 * Works out a document at a frame: pulls from the Stage node, runs what is needed and not already known, and
 * reports on every node. Results are remembered per node by a key made of the node, its settings and the
 * versions of what arrives; the frame belongs to the key only when the node read the time.
 */
import { cancellable } from "../cancelling";
import { parseCapsuleType } from "../capsules/definitions";
import { type FlatGraph, flatten } from "../capsules/flatten";
import { indexGraph, orderFrom } from "../document/links";
import type { PieceDocument } from "../document/schema";
import type { ShapeAsset } from "../formats/read/asset";
import type { Lane } from "../geometry/column";
import { arraysOf } from "../geometry/domains";
import { EMPTY_SHAPE, type Shape, tallyOf } from "../geometry/shape";
import { MOST_TEXTURES, type TextureSet } from "../geometry/textures";
import { addHints } from "../inspect/hints";
import { inspectValues } from "../inspect/summaries";
import { Arena } from "../kernels/arena";
import type { Problem } from "../nodes/define";
import { texturesOf } from "../nodes/dress/textures";
import { Simulation } from "../simulate/simulation";
import { reportInstances } from "./instance-reports";
import { ResultMemory } from "./memory";
import { type EvaluateOptions, TookTooLong } from "./options";
import { failedReport } from "./problems";
import type { EvaluationReport, NodeReport } from "./report";
import { type Outcome, Run } from "./run";
import { PASSING } from "./stepper";

export interface Evaluation {
  /** What reached the stage; undefined when something it needs failed. */
  readonly shape: Shape | undefined;
  /** Settings of the stage node, resolved. */
  readonly stage: Readonly<Record<string, unknown>> | undefined;
  readonly outputs: Readonly<Record<string, unknown>> | undefined;
  /** Sets of pictures that elements of the shape may name. */
  readonly textures: readonly TextureSet[];
  readonly report: EvaluationReport;
}

export class Evaluator {
  private readonly memory = new ResultMemory();
  /** Lanes of all results. */
  readonly arena = new Arena();
  /** Shapes that someone outside still uses. */
  private readonly kept = new Set<Shape>();
  /** What all nodes gave at the last evaluation, bytes. */
  resultBytes = 0;

  /** @param simulation what is carried from frame to frame */
  constructor(readonly simulation = new Simulation()) {}

  /**
   * What it returns may be read until the next evaluation; to have a shape for longer, `keep` it.
   * @throws Cancelled
   */
  evaluate(document: PieceDocument, frame: number, options: EvaluateOptions = {}): Evaluation {
    try {
      return this.arena.within(() => this.workOut(document, frame, options));
    } finally {
      if (this.memory.changed || this.arena.unsorted) {
        this.arena.keepOnly(this.published());
        this.memory.sortTimeCaches();
      }
    }
  }

  /** Asks something about the results of the last evaluation of a piece; what it makes on the way is given back. */
  query<T>(document: PieceDocument, ask: (flat: FlatGraph, memory: ResultMemory) => T): T {
    try {
      return this.arena.within(() => ask(flatten(document), this.memory));
    } finally {
      this.arena.keepOnly(this.published());
    }
  }

  /** Leaves a shape whole over further evaluations, until the function that is returned is called. */
  keep(shape: Shape): () => void {
    this.kept.add(shape);
    return () => this.kept.delete(shape);
  }

  /** Every lane that a later evaluation, an inspection or whoever keeps a shape may read. */
  private *published(): Generator<Lane> {
    for (const shape of this.kept) yield* arraysOf(shape);
    yield* this.memory.lanes();
    yield* this.simulation.lanes();
  }

  /** Those of all Textures nodes, and of files, that were worked out. */
  private texturesIn({ graph }: FlatGraph): TextureSet[] {
    const sets = new Map<number, TextureSet>();
    for (const { id, type } of graph.nodes) {
      if (type !== "textures" && type !== "import") continue;
      const inputs = this.memory.get(id)?.inputs ?? {};
      const file = inputs.file as ShapeAsset | null | undefined;
      const own = type === "textures" ? texturesOf(inputs) : null;
      for (const set of own ? [own] : (file?.textures ?? [])) sets.set(set.number, set);
    }
    return [...sets.values()];
  }

  private workOut(document: PieceDocument, frame: number, options: EvaluateOptions): Evaluation {
    const now = options.now ?? (() => performance.now());
    const begun = now();
    const flat = flatten(document);
    const index = indexGraph(flat.graph);
    const problems: Problem[] = [];
    const reports: Record<string, NodeReport> = {};
    for (const node of flat.graph.nodes) {
      const isKnown = flat.definitions.has(node.id);
      reports[node.id] = isKnown ? UNUSED : unknownReport(node.type);
    }

    const stages = document.graph.nodes.filter((node) => node.type === "stage");
    const target = options.target && (flat.instances.get(options.target)?.outputs ?? options.target);
    const root = target ?? stages[0]?.id;
    if (stages.length > 1 && !options.target) {
      problems.push({
        level: "warning",
        what: `There are ${stages.length} Stage nodes; "${stages[0].id}" is shown.`,
      });
    }
    this.simulation.checkpoints.playhead = frame;
    const carrying = { simulation: this.simulation, published: () => this.published() };
    const run = new Run(document, frame, options, flat, this.memory, carrying, reports, now);
    let outcome: Outcome = { ok: false };
    if (!root) {
      problems.push({
        level: "warning",
        what: "There is no Stage node, so nothing is shown. Add one and link a shape to it.",
      });
    } else {
      const order = orderFrom(index, [root]);
      if (order.ok) {
        outcome = cancellable(limiter(options, begun, now), () => run.inOrder(order.order));
      } else {
        const ring = order.cycle.join(" → ");
        problems.push({
          level: "error",
          what: `These nodes feed each other in a ring: ${ring}. Remove one of the links; what is to come back at the next frame goes through a Step loop.`,
        });
        for (const id of order.cycle) {
          reports[id] = failedReport([
            { level: "error", what: `It feeds itself: ${ring}. Remove one of the links.` },
          ]);
        }
      }
    }
    this.resultBytes = run.bytes;
    this.memory.keepOnly(new Map([...index.nodes, [PASSING, null]]));
    this.simulation.keepOnly(index.nodes);
    const done = outcome.ok ? outcome.result : undefined;
    if (options.inspect) {
      inspectValues(flat, this.memory, reports);
      addHints(flat, this.memory, reports);
    }
    reportInstances(flat, reports);
    const textures = this.texturesIn(flat);
    if (textures.length > MOST_TEXTURES)
      problems.push({
        level: "warning",
        what: `The piece has ${textures.length} different Textures; ${MOST_TEXTURES} of them are shown.`,
      });
    const shape =
      done && !options.target ? ((done.outputs.shape as Shape | undefined) ?? EMPTY_SHAPE) : undefined;
    return {
      shape,
      stage: options.target ? undefined : done?.inputs,
      outputs: done?.outputs,
      textures,
      report: {
        frame,
        ms: now() - begun,
        bytes: this.resultBytes + this.simulation.checkpoints.bytes,
        nodes: reports,
        problems,
        tally: tallyOf(shape ?? EMPTY_SHAPE),
        complete: done !== undefined,
        ...(run.stopped ? { stopped: true } : {}),
      },
    };
  }
}

/** What an evaluation asks now and then: whether it is still wanted, and whether its time is up. */
function limiter({ checkCancelled, timeLimit }: EvaluateOptions, begun: number, now: () => number) {
  return () => {
    checkCancelled?.();
    if (timeLimit !== undefined && now() - begun > timeLimit) throw new TookTooLong(timeLimit);
  };
}

const UNUSED: NodeReport = {
  state: "unused",
  ms: 0,
  why: "Nothing that reaches the stage needs it.",
  problems: [],
};

function unknownReport(type: string): NodeReport {
  const capsule = parseCapsuleType(type);
  const what = capsule
    ? `The piece has no capsule "${capsule.name}". The node is kept and does nothing; paste or import the capsule again.`
    : `This version has no node of type "${type}". It is kept as it is and does nothing.`;
  return {
    state: "unknown",
    ms: 0,
    why: "This version does not know the node.",
    problems: [{ level: "warning", what }],
  };
}
