/** The core in a worker of the page. One evaluation at a time; the client keeps the queue. */
import { cancellable } from "../core/cancelling";
import { flatten } from "../core/capsules/flatten";
import type { PieceDocument } from "../core/document/schema";
import { alongVelocity } from "../core/draw/along-velocity";
import { TooManyCopies } from "../core/draw/copies";
import { IN_MEMORY } from "../core/draw/draw-memory";
import { type DrawBatch, type Drawing, drawingOf } from "../core/draw/drawing";
import { arraysOfLoose, type DrawDots, type DrawLines } from "../core/draw/loose";
import { AssetShelf } from "../core/evaluate/asset-shelf";
import { type Evaluation, Evaluator } from "../core/evaluate/evaluator";
import { prepareLibraries } from "../core/evaluate/libraries";
import { Cancelled } from "../core/evaluate/options";
import type { EvaluationReport } from "../core/evaluate/report";
import { AnimatedGlb } from "../core/formats/write/animated-glb";
import { FRAME_WRITERS } from "../core/formats/write/write-frame";
import type { Mesh } from "../core/geometry/mesh";
import type { Shape } from "../core/geometry/shape";
import { peekShape } from "../core/inspect/peek";
import { addressOf } from "../core/kernels/arena";
import { setHelpers } from "../core/kernels/helpers";
import { DiskCache } from "../core/simulate/disk-cache";
import { assetReader } from "./asset-reader";
import { FrameBuffer } from "./frame-buffer";
import { rangesOf } from "./frame-ranges";
import { hasRoomForFrames, ledgerOf, makeRoom } from "./ledger";
import { openPrivateDisk } from "./private-disk";
import type { FromEngine, Peek, ToEngine, WireDrawing } from "./protocol";
import { Answerer } from "./queries";
import { type Dressing, type Sending, SentGeometries } from "./sent-geometries";
import { SentStage } from "./sent-stage";
import { startHelpers } from "./start-helpers";

const evaluator = new Evaluator();
const assets = new AssetShelf(assetReader());
const answerer = new Answerer(evaluator);
const buffer = new FrameBuffer(evaluator, undefined, hasRoomForFrames);

setHelpers(startHelpers());
let newest: Int32Array | null = null;
let document: PieceDocument | null = null;
let sent: Shape | undefined;
/** The drawing sent last had what lines around meshes need. */
let sentWith: Dressing = { outlined: false, laid: false };
/** Clones and bare sites of the drawing sent last. */
let sentCount = 0;
/** Batches of the last drawing, by mesh: the page keeps these and no others. */
let shown: ReadonlyMap<Mesh, DrawBatch> = new Map();
const geometries = new SentGeometries();

const reply = (message: FromEngine, transfer: Transferable[] = []) => self.postMessage(message, { transfer });

type Message<T extends ToEngine["type"]> = Extract<ToEngine, { type: T }>;
type Told = "setup" | "piece" | "cleared" | "recycle";
type Asked = Exclude<ToEngine["type"], Told>;

/** Messages that are taken at once and have no answer. */
const TOLD: { readonly [T in Told]: (message: Message<T>) => void } = {
  setup({ cancel, disk }) {
    newest = cancel && new Int32Array(cancel);
    if (disk) opening = openDisk(disk);
  },
  piece(message) {
    document = message.document;
  },
  cleared: forgetSent,
  recycle({ arrays }) {
    for (const array of arrays) IN_MEMORY.give(array);
  },
};

/** Messages that are answered, each about the piece that it was sent after, once its files are there. */
const ASKED: { readonly [T in Asked]: (piece: PieceDocument, message: Message<T>) => void | Promise<void> } =
  {
    evaluate,
    query: answerQuery,
    prepare,
    export: exportFrame,
    animate,
    animated: (piece, { id }) => endAnimation(piece, id),
  };

const isTold = (message: ToEngine): message is Message<Told> => message.type in TOLD;

self.onmessage = ({ data }: MessageEvent<ToEngine>) => {
  if (isTold(data)) (TOLD[data.type] as (message: ToEngine) => void)(data);
  else void answer(data);
};

async function answer(message: Message<Asked>): Promise<void> {
  // Another piece may come while files are waited for.
  const piece = document;
  try {
    if (!piece) throw new Error("No piece has come yet.");
    await opening;
    await whileWanted(message.id, Promise.all([assets.prepare(piece), prepareLibraries(piece)]));
    const handle = ASKED[message.type] as (piece: PieceDocument, message: ToEngine) => void | Promise<void>;
    await handle(piece, message);
  } catch (error) {
    if (error instanceof Cancelled) reply({ type: "cancelled", id: message.id });
    else reply({ type: "failed", id: message.id, what: (error as Error).message });
  }
  makeRoom(buffer);
  tellFramesSoon();
}

/** Waited for before anything is worked out. */
let opening: Promise<void> = Promise.resolve();

async function openDisk(name: string): Promise<void> {
  const disk = await openPrivateDisk(name);
  try {
    if (disk) evaluator.simulation.disk = new DiskCache(disk);
  } catch {
    // A file that can neither be read nor begun anew: states are kept in memory alone.
  }
}

/** Milliseconds between two words on which frames are worked out. */
const FRAMES_EVERY = 300;
/** Milliseconds of rest after which what was worked out goes to disk. */
const FLUSH_AFTER = 1200;
let tellTimer: ReturnType<typeof setTimeout> | undefined;
let flushTimer: ReturnType<typeof setTimeout> | undefined;

function tellFramesSoon(): void {
  if (tellTimer === undefined)
    tellTimer = setTimeout(() => {
      tellTimer = undefined;
      tellFrames();
    }, FRAMES_EVERY);
  clearTimeout(flushTimer);
  flushTimer = setTimeout(() => {
    evaluator.simulation.flush();
    tellFrames();
  }, FLUSH_AFTER);
}

function tellFrames(): void {
  const { simulation } = evaluator;
  const disk = rangesOf(simulation.framesOnDisk());
  const memory = ledgerOf(evaluator, buffer);
  reply({
    type: "frames",
    frames: { ...buffer.frames, disk, fault: simulation.disk?.fault ?? null, memory },
  });
}

/** Works a frame out for later. */
function prepare(document: PieceDocument, { id, frame }: Extract<ToEngine, { type: "prepare" }>): void {
  const checkCancelled = () => {
    if (isStale(id)) throw new Cancelled();
  };
  buffer.turnTo(document);
  let fault: string | null = null;
  if (buffer.wants(document, frame)) {
    const result = evaluator.evaluate(document, frame, {
      assets: assets.lookup(document),
      checkCancelled,
      stepped: tellSteps(id),
    });
    buffer.put(document, frame, result);
    if (!result.shape) fault = faultOf(result);
  }
  reply({ type: "prepared", id, fault });
}

function faultOf({ report }: Evaluation): string {
  const failed = Object.entries(report.nodes).find(([, n]) => n.state === "failed");
  return failed
    ? `"${failed[0]}" has an error: ${failed[1].problems[0]?.what}`
    : "Nothing reaches the stage.";
}

const isStale = (id: number): boolean => newest !== null && Atomics.load(newest, 0) > id;

/** Milliseconds between two looks at whether a wait is still wanted. */
const LOOK_EVERY = 25;

/** Waits for files; a cancel ends the waiting, not the reading. @throws Cancelled */
async function whileWanted(id: number, prepared: Promise<unknown>): Promise<void> {
  let timer: ReturnType<typeof setInterval> | undefined;
  const stale = new Promise<never>((_, fail) => {
    timer = setInterval(() => isStale(id) && fail(new Cancelled()), LOOK_EVERY);
  });
  try {
    await Promise.race([prepared, stale]);
  } finally {
    clearInterval(timer);
  }
}

function evaluate(document: PieceDocument, request: Extract<ToEngine, { type: "evaluate" }>): void {
  const { id, frame, inspect, timeLimit, peek, drift } = request;
  const checkCancelled = () => {
    if (isStale(id)) throw new Cancelled();
  };
  // Cards are told about when it rests, and by then something else may have been worked out.
  const buffered = inspect || peek ? undefined : buffer.get(document, frame);
  const result =
    buffered ??
    evaluator.evaluate(document, frame, {
      assets: assets.lookup(document),
      checkCancelled,
      inspect,
      timeLimit,
      stepped: tellSteps(id),
    });
  if (!buffered && !inspect && !peek) buffer.put(document, frame, result);
  const still = peek ? peeked(document, frame, peek, result, checkCancelled) : result.shape;
  const shape = still && drift !== 0 ? drifted(document, still, drift) : still;
  const outlined = Number(result.stage?.outline ?? 0) > 0;
  const laid = request.laid || result.textures.some(({ lies }) => lies === "by UV");
  // What was sent without what a line needs is sent once more, whole.
  if ((outlined && !sentWith.outlined) || (laid && !sentWith.laid)) forgetSent();
  if (!shape || shape === sent) {
    reply({
      type: "evaluated",
      id,
      report: shape ? counted(result.report) : result.report,
      stage: stage.settingsOf(result, document, frame),
    });
    return;
  }
  let drawing: Drawing;
  try {
    drawing = cancellable(checkCancelled, () => drawingOf(shape, IN_MEMORY, shown));
  } catch (error) {
    if (!(error instanceof TooManyCopies)) throw error;
    const problems = [...result.report.problems, { level: "error" as const, what: error.message }];
    reply({ type: "evaluated", id, report: { ...result.report, problems, complete: false } });
    return;
  }
  let sending: Sending;
  try {
    sending = cancellable(checkCancelled, () => geometries.sendingOf(drawing, { outlined, laid }));
  } catch (error) {
    for (const array of arraysOfDrawing(drawing)) IN_MEMORY.give(array);
    // Some of it was counted as sent.
    forgetSent();
    throw error;
  }
  sent = shape;
  sentWith = { outlined, laid };
  sentCount = drawing.clones + (drawing.dots?.count ?? 0);
  const { wire, transfer } = wireOf(drawing, sending);
  reply(
    {
      type: "evaluated",
      id,
      report: counted(result.report),
      drawing: wire,
      stage: stage.settingsOf(result, document, frame),
    },
    transfer,
  );
}

/** Milliseconds between two words on how far it is. */
const TELL_EVERY = 250;

function tellSteps(id: number): (frame: number, until: number) => void {
  let told = performance.now();
  return (frame, until) => {
    if (performance.now() - told < TELL_EVERY) return;
    told = performance.now();
    reply({ type: "stepped", id, frame, until });
  };
}

let releasePeeked = () => {};
let releaseDrifted = () => {};

/** What is drawn a moment later by its velocities, until the next one. */
function drifted(document: PieceDocument, still: Shape, seconds: number): Shape {
  releaseDrifted();
  return evaluator.query(document, () => {
    const shape = alongVelocity(still, seconds);
    const releases = [evaluator.keep(still), evaluator.keep(shape)];
    releaseDrifted = () => {
      for (const release of releases) release();
    };
    return shape;
  });
}

/** What is peeked at, kept until something else is; the result itself when there is nothing to see of it. */
function peeked(
  document: PieceDocument,
  frame: number,
  { node, port }: Peek,
  { shape }: Evaluation,
  checkCancelled: () => void,
): Shape | undefined {
  const flat = flatten(document);
  const target = flat.instances.get(node)?.outputs ?? node;
  const isKnown = flat.definitions.has(target);
  // What the stage does not need has not been worked out yet.
  if (isKnown)
    evaluator.evaluate(document, frame, { assets: assets.lookup(document), checkCancelled, target });
  releasePeeked();
  return evaluator.query(document, (graph, memory) => {
    const found = isKnown ? peekShape(graph, memory, target, port, shape) : null;
    if (found) releasePeeked = evaluator.keep(found);
    return found ?? shape;
  });
}

function answerQuery(
  document: PieceDocument,
  { id, frame, query }: Extract<ToEngine, { type: "query" }>,
): void {
  const checkCancelled = () => {
    if (isStale(id)) throw new Cancelled();
  };
  const options = { assets: assets.lookup(document), checkCancelled };
  const answer = answerer.answer(document, frame, query, options, (geometry) => meshOf(geometry), sent);
  reply({ type: "answered", id, answer });
}

const stage = new SentStage();

/** The mesh whose key the page was given. */
const meshOf = (geometry: number): Mesh | undefined => geometries.meshOf(geometry);

/** The report with clones of clones counted one by one, as they are seen. */
const counted = (report: EvaluationReport): EvaluationReport => ({
  ...report,
  tally: { ...report.tally, sites: sentCount },
});

/** The next drawing is to be whole. */
function forgetSent(): void {
  sent = undefined;
  shown = new Map();
  geometries.clear();
}

/** All arrays that a drawing was composed into. */
const arraysOfDrawing = ({ batches, lines, dots }: Drawing): Float32Array[] => [
  ...batches.flatMap(({ matrices, colors, looks }) => [matrices, colors, ...(looks ? [looks] : [])]),
  ...[lines, dots].flatMap(arraysOfLoose),
];

function wireOf(
  { batches, lines, dots, volumes, bounds, clones }: Drawing,
  { fresh, moved, keys }: Sending,
): { wire: WireDrawing; transfer: Transferable[] } {
  const transfer: Transferable[] = fresh.flatMap(({ geometry, outward }) =>
    [...Object.values(geometry), outward].flatMap((part) => (part ? [part.buffer as ArrayBuffer] : [])),
  );
  const send = (array: Float32Array): Float32Array => {
    // Where memory is not shared with the page, and for what belongs to the core, the page gets a copy of its own.
    if (addressOf(array) !== null && self.crossOriginIsolated) return array;
    const own = array.slice();
    IN_MEMORY.give(array);
    transfer.push(own.buffer);
    return own;
  };
  const sending = batches.map(({ mesh, count, matrices, colors, looks, bounds, reach }) => ({
    geometry: keys.get(mesh) as number,
    count,
    matrices: send(matrices),
    colors: send(colors),
    looks: looks && send(looks),
    bounds,
    reach,
  }));
  const loose = <T extends DrawLines | DrawDots>(part: T | undefined) =>
    part && {
      ...part,
      positions: send(part.positions),
      colors: send(part.colors),
      thickness: part.thickness && send(part.thickness),
      roundness: part.roundness && send(part.roundness),
      pictures: part.pictures && send(part.pictures),
    };
  for (const { cells, matrices } of volumes)
    transfer.push(cells.buffer as ArrayBuffer, matrices.buffer as ArrayBuffer);
  shown = new Map(batches.map((batch) => [batch.mesh, batch]));
  return {
    wire: {
      batches: sending,
      geometries: fresh,
      moved: moved.map(({ key, outward, vertices: { positions, normals, colors, looks } }) => ({
        key,
        ...(outward ? { outward } : {}),
        vertices: {
          positions: send(positions),
          normals: send(normals),
          ...(colors ? { colors: send(colors) } : {}),
          ...(looks ? { looks: send(looks) } : {}),
        },
      })),
      lines: loose(lines),
      dots: loose(dots),
      volumes,
      bounds,
      clones,
    },
    transfer: [...new Set(transfer)],
  };
}

async function exportFrame(
  document: PieceDocument,
  { id, frame, request }: Extract<ToEngine, { type: "export" }>,
): Promise<void> {
  const { shape, textures } = resultAt(document, frame);
  // Frames may be asked for while the file is being written.
  const release = evaluator.keep(shape);
  try {
    const bytes = await FRAME_WRITERS[request.format].write(shape, {
      copies: request.copies,
      name: document.name,
      textures,
    });
    replyFile(id, bytes);
  } finally {
    release();
  }
}

/** What reaches the stage at a frame. @throws Error with what is wrong */
function resultAt(document: PieceDocument, frame: number): Evaluation & { readonly shape: Shape } {
  const result = evaluator.evaluate(document, frame, { assets: assets.lookup(document) });
  if (result.shape) return { ...result, shape: result.shape };
  throw new Error(faultOf(result));
}

function replyFile(id: number, bytes: Uint8Array): void {
  const own = bytes.slice() as Uint8Array<ArrayBuffer>;
  reply({ type: "exported", id, bytes: own }, [own.buffer]);
}

let animation: AnimatedGlb | null = null;

function animate(
  document: PieceDocument,
  { id, frame, seconds, begin }: Extract<ToEngine, { type: "animate" }>,
): void {
  if (begin || !animation) animation = new AnimatedGlb();
  const { shape, textures } = resultAt(document, frame);
  animation.add(shape, frame, seconds, textures);
  reply({ type: "exported", id, bytes: new Uint8Array() });
}

async function endAnimation({ name }: PieceDocument, id: number): Promise<void> {
  const ended = animation ?? new AnimatedGlb();
  animation = null;
  replyFile(id, await ended.write(name));
}
