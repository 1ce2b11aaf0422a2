/**
 * The page's side of the engine worker. Keeps at most one evaluation running and one waiting: the latest
 * request wins. A running one is only cut short when it has taken so long that finishing it would be felt,
 * so that dragging a slider over a middling graph still shows every few results instead of none.
 */
import type { PieceDocument } from "../core/document/schema";
import { arraysOfLoose } from "../core/draw/loose";
import { arraysOf } from "../core/draw/moving-mesh";
import { asTakenAway } from "../core/evaluate/taken-away";
import type {
  AnyQuery,
  ExportRequest,
  FrameStates,
  FromEngine,
  Peek,
  Queries,
  QueryKind,
  ToEngine,
  WireDrawing,
} from "./protocol";
import { startWorker } from "./worker-url";

type Evaluated = Extract<FromEngine, { type: "evaluated" }>;
type EvaluateRequest = {
  document: PieceDocument;
  frame: number;
  inspect: boolean;
  /** Shown instead of the result. */
  peek?: Peek | null;
  /** Meshes are drawn with where they lie on pictures. */
  laid?: boolean;
  /** Seconds by which what is drawn is moved on along its velocities. */
  drift?: number;
  timeLimit?: number;
};
type Answer = Extract<FromEngine, { type: "exported" | "answered" | "prepared" }>;

/** Milliseconds a running evaluation is left alone when a newer request arrives. */
const PATIENCE = 250;
/** Milliseconds after a cancel within which the worker has to answer; then it is replaced. */
const LAST_GRACE = 3000;

/** A question or an export gave way to a newer change of the piece. */
export class Interrupted extends Error {
  constructor() {
    super("It was stopped, as the piece changed meanwhile. Try once more.");
  }
}

export interface EngineHandlers {
  evaluated(message: Evaluated): void;
  /** The worker died or an evaluation failed unexpectedly. */
  failed(what: string): void;
  /** A request began or the last one ended. */
  busy(busy: boolean): void;
  /** What is worked out has come so far on its way through the frames before. */
  stepped?(frame: number, until: number): void;
  /** Which frames are worked out. */
  frames?(frames: FrameStates): void;
}

export class EngineClient {
  private worker: Worker | null = null;
  /** The piece that the worker has. */
  private sent: PieceDocument | null = null;
  private cancel: Int32Array | null = null;
  private nextId = 1;
  private running: { id: number; since: number } | null = null;
  private waiting: EvaluateRequest | null = null;
  /** Exports and questions that are not answered yet. */
  private readonly asked = new Map<
    number,
    { done: (answer: Answer) => void; fail: (error: Error) => void }
  >();
  private patience: ReturnType<typeof setTimeout> | undefined;
  private grace: ReturnType<typeof setTimeout> | undefined;

  /** @param disk the file in which states of other frames are kept; null for none */
  constructor(
    private readonly handlers: EngineHandlers,
    private readonly disk: string | null = null,
  ) {
    this.start();
  }

  /** One that is only asked for files; their faults come to whoever asks. */
  static forFiles(): EngineClient {
    return new EngineClient({ evaluated: () => {}, failed: () => {}, busy: () => {} });
  }

  /** Asks for a frame; replaces a request that has not begun. */
  evaluate(request: EvaluateRequest): void {
    if (!this.running) {
      this.begin(request);
      return;
    }
    this.waiting = request;
    const left = PATIENCE - (performance.now() - this.running.since);
    clearTimeout(this.patience);
    this.patience = setTimeout(() => this.interrupt(), Math.max(0, left));
  }

  /** Stops the running evaluation and forgets the waiting one. */
  stop(): void {
    this.waiting = null;
    this.interrupt();
  }

  /** @throws Error with a message for the designer */
  async export(
    document: PieceDocument,
    frame: number,
    request: ExportRequest,
  ): Promise<Uint8Array<ArrayBuffer>> {
    const answer = await this.ask(asTakenAway(document), (id) => ({ type: "export", id, frame, request }));
    return (answer as Extract<Answer, { type: "exported" }>).bytes;
  }

  /** Works a frame out for later; gives what is wrong with it, or null. @throws Error with a message for the designer */
  async prepare(document: PieceDocument, frame: number): Promise<string | null> {
    const answer = await this.ask(document, (id) => ({ type: "prepare", id, frame }));
    return (answer as Extract<Answer, { type: "prepared" }>).fault;
  }

  /** Adds a frame to an animated GLB, a new one with `begin`. @throws Error with a message for the designer */
  async animate(document: PieceDocument, frame: number, seconds: number, begin: boolean): Promise<void> {
    await this.ask(asTakenAway(document), (id) => ({ type: "animate", id, frame, seconds, begin }));
  }

  /** The animated GLB of the frames that were added. @throws Error with a message for the designer */
  async animation(document: PieceDocument): Promise<Uint8Array<ArrayBuffer>> {
    const answer = await this.ask(asTakenAway(document), (id) => ({ type: "animated", id }));
    return (answer as Extract<Answer, { type: "exported" }>).bytes;
  }

  /** Asks about a frame's result; null when there is nothing to answer. @throws Error with a message for the designer */
  async query<K extends QueryKind>(
    document: PieceDocument,
    frame: number,
    kind: K,
    ask: Queries[K]["ask"],
  ): Promise<Queries[K]["answer"] | null> {
    const query = { kind, ask } as AnyQuery;
    const answer = await this.ask(document, (id) => ({ type: "query", id, frame, query }));
    return (answer as Extract<Answer, { type: "answered" }>).answer as Queries[K]["answer"] | null;
  }

  private ask(document: PieceDocument, message: (id: number) => ToEngine): Promise<Answer> {
    const id = this.nextId++;
    return new Promise((done, fail) => {
      this.asked.set(id, { done, fail });
      this.send(document);
      this.post(message(id));
    });
  }

  /** Says that nothing is shown any more, so that the next drawing comes whole. */
  cleared(): void {
    this.post({ type: "cleared" });
  }

  /** Gives the arrays of a drawing back that has been copied to where it is shown; not to be read afterwards. */
  recycle({ batches, moved, lines, dots }: WireDrawing): void {
    const shared = [
      ...batches.flatMap(({ matrices, colors, looks }) => [matrices, colors, ...(looks ? [looks] : [])]),
      ...moved.flatMap(({ vertices }) => arraysOf(vertices)),
      ...[lines, dots].flatMap(arraysOfLoose),
    ].filter(({ buffer }) => !(buffer instanceof ArrayBuffer));
    if (shared.length > 0) this.post({ type: "recycle", arrays: shared });
  }

  dispose(): void {
    clearTimeout(this.patience);
    clearTimeout(this.grace);
    this.worker?.terminate();
    this.worker = null;
  }

  private start(): void {
    const worker = startWorker();
    worker.onmessage = ({ data }: MessageEvent<FromEngine>) => this.receive(data);
    worker.onerror = (event) => this.crashed(event.message);
    this.worker = worker;
    this.sent = null;
    const shared =
      typeof SharedArrayBuffer === "function" && crossOriginIsolated ? new SharedArrayBuffer(4) : null;
    this.cancel = shared && new Int32Array(shared);
    this.post({ type: "setup", cancel: shared, disk: this.disk });
  }

  private post(message: ToEngine): void {
    this.worker?.postMessage(message);
  }

  /** A piece crosses when it has changed, not with every frame. */
  private send(document: PieceDocument): void {
    if (this.sent === document) return;
    this.post({ type: "piece", document });
    this.sent = document;
  }

  private begin(request: EvaluateRequest): void {
    const id = this.nextId++;
    const { document, peek = null, laid = false, drift = 0, ...asked } = request;
    this.running = { id, since: performance.now() };
    this.handlers.busy(true);
    this.send(document);
    this.post({ type: "evaluate", id, peek, laid, drift, ...asked });
  }

  private interrupt(): void {
    if (!this.running) return;
    const { id } = this.running;
    if (this.cancel) Atomics.store(this.cancel, 0, id + 1);
    clearTimeout(this.grace);
    this.grace = setTimeout(() => {
      if (this.running?.id === id) this.crashed("it did not stop when asked to");
    }, LAST_GRACE);
  }

  private receive(message: FromEngine): void {
    if (message.type === "frames") {
      this.handlers.frames?.(message.frames);
      return;
    }
    const waiter = this.asked.get(message.id);
    if (waiter && message.type === "stepped") {
      this.handlers.stepped?.(message.frame, message.until);
      return;
    }
    if (waiter) {
      this.asked.delete(message.id);
      if (message.type === "exported" || message.type === "answered" || message.type === "prepared")
        waiter.done(message);
      else waiter.fail(message.type === "failed" ? new Error(message.what) : new Interrupted());
      return;
    }
    if (this.running?.id !== message.id) return;
    if (message.type === "stepped") {
      this.handlers.stepped?.(message.frame, message.until);
      return;
    }
    this.running = null;
    clearTimeout(this.patience);
    const next = this.waiting;
    this.waiting = null;
    if (next) this.begin(next);
    else this.handlers.busy(false);
    if (message.type === "evaluated") this.handlers.evaluated(message);
    else if (message.type === "failed") this.handlers.failed(message.what);
  }

  /** The piece lives on the page, so a new worker can go on where the old one died. */
  private crashed(what: string): void {
    this.worker?.terminate();
    for (const { fail } of this.asked.values())
      fail(new Error("The engine stopped and was started again; try once more."));
    this.asked.clear();
    const lost = this.waiting;
    this.running = null;
    this.waiting = null;
    this.start();
    this.handlers.busy(false);
    this.handlers.failed(
      `The engine stopped (${what || "no reason given"}) and was started again. The piece is intact.`,
    );
    if (lost) this.begin(lost);
  }
}
