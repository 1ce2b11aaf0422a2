/** Answers questions about results: tables, traces, what a copy on the stage is, what arrives over frames. */
import { flatten } from "../core/capsules/flatten";
import type { PieceDocument } from "../core/document/schema";
import { siteOfCopy } from "../core/draw/site-of-copy";
import type { Evaluator } from "../core/evaluate/evaluator";
import type { EvaluateOptions } from "../core/evaluate/options";
import type { Mesh } from "../core/geometry/mesh";
import type { Shape } from "../core/geometry/shape";
import { BestPair } from "../core/inspect/best-pair";
import { InputReader } from "../core/inspect/input-statistics";
import { type LoopGap, loopGap } from "../core/inspect/loop";
import { MotionPaths } from "../core/inspect/motion-paths";
import { OverTimeReader } from "../core/inspect/over-time";
import { Tables } from "../core/inspect/table";
import { traceElement } from "../core/inspect/trace";
import type { AnyQuery, Queries, QueryKind } from "./protocol";

/** Questions that are answered by going through frames. */
const OVER_FRAMES = ["input-statistics", "loop", "pair", "paths", "over-time"] as const;
type OverFrames = Extract<AnyQuery, { readonly kind: (typeof OVER_FRAMES)[number] }>;

const isOverFrames = (query: AnyQuery): query is OverFrames =>
  (OVER_FRAMES as readonly string[]).includes(query.kind);

/** The node that gives what another one gives: of a capsule, the one within it that its outputs come from. */
const answering = (document: PieceDocument, node: string): string =>
  flatten(document).instances.get(node)?.outputs ?? node;

export class Answerer {
  private readonly tables = new Tables();

  constructor(private readonly evaluator: Evaluator) {}

  /**
   * @param meshOf the mesh of a key that the page has
   * @param shown what the stage shows
   */
  answer(
    document: PieceDocument,
    frame: number,
    query: AnyQuery,
    options: EvaluateOptions,
    meshOf: (geometry: number) => Mesh | undefined,
    shown: Shape | undefined,
  ): Queries[QueryKind]["answer"] | null {
    if (query.kind === "pick") {
      for (const { geometry, copy } of query.ask) {
        const mesh = meshOf(geometry);
        const site = mesh && shown ? siteOfCopy(shown, mesh, copy) : null;
        if (site !== null) return site;
      }
      return null;
    }
    if (isOverFrames(query)) return this.overFrames(document, query, options);
    const node = answering(document, query.ask.node);
    this.evaluator.evaluate(document, frame, options);
    // What the stage does not need has not been worked out yet.
    if (flatten(document).definitions.has(node))
      this.evaluator.evaluate(document, frame, { ...options, target: node });
    return this.evaluator.query(document, (flat, memory) => {
      switch (query.kind) {
        case "trace":
          return traceElement(flat, memory, node, query.ask.port, query.ask.index, query.ask.id);
        case "table":
          return this.tables.page(flat, memory, { ...query.ask, node });
        case "csv":
          return this.tables.csv(flat, memory, { ...query.ask, node });
        case "followed":
          return this.tables.followed(flat, memory, { ...query.ask, node });
      }
    });
  }

  private overFrames(
    document: PieceDocument,
    query: OverFrames,
    options: EvaluateOptions,
  ): Queries[QueryKind]["answer"] | null {
    if (query.kind === "input-statistics") {
      const arrivals = new InputReader(query.ask);
      for (const at of query.ask.frames) {
        this.evaluator.evaluate(document, at, options);
        this.evaluator.query(document, (flat, memory) => arrivals.take(flat, memory));
      }
      return arrivals.summary();
    }
    const shapeAt = (at: number) => this.evaluator.evaluate(document, at, options).shape;
    if (query.kind === "loop") return this.gap(query.ask.first, query.ask.last + 1, shapeAt);
    if (query.kind === "pair") {
      const pair = new BestPair();
      for (let at = query.ask.first; at <= query.ask.last + 1; at++) {
        const shape = shapeAt(at);
        if (shape) pair.add(at, shape);
      }
      const best = pair.best();
      const gap = best && this.gap(best.first, best.second, shapeAt);
      return best && gap && { ...best, gap };
    }
    if (query.kind === "paths") {
      const paths = new MotionPaths();
      for (const at of query.ask.frames) {
        const shape = shapeAt(at);
        if (shape) paths.add(shape);
      }
      return paths.lines();
    }
    const { port, id, frames } = query.ask;
    const target = answering(document, query.ask.node);
    const reader = new OverTimeReader(target, port, id);
    for (const at of frames) {
      this.evaluator.evaluate(document, at, { ...options, target });
      this.evaluator.query(document, (_flat, memory) => reader.add(at, memory));
    }
    return reader.answer();
  }

  private gap(first: number, second: number, shapeAt: (frame: number) => Shape | undefined): LoopGap | null {
    const begin = shapeAt(first);
    const release = begin ? this.evaluator.keep(begin) : () => undefined;
    try {
      const after = shapeAt(second);
      return begin && after ? loopGap(begin, after) : null;
    } finally {
      release();
    }
  }
}
