/**
 * Nodes that do not need each other, worked out at the same time: while the evaluation runs one heavy node, helpers run
 * others that are ready. A node's inputs cross as they are, lanes by reference; its outputs come back as text (see
 * outputs-as-text.ts), in an allocation of the shared memory that the helper had for itself.
 */
import { tick } from "../cancelling";
import type { PieceDocument } from "../document/schema";
import { type Domain, type Lane, lanesIn } from "../geometry/column";
import { Arena, currentArena, integersInMemory } from "../kernels/arena";
import { type Helper, type HelperMessage, help, helpers } from "../kernels/helpers";
import { engine, setEngine } from "../kernels/kernels";
import { type Allocation, KernelMemory } from "../kernels/memory";
import { Task } from "../kernels/task";
import { catalogue } from "../nodes/catalogue";
import type { AnyInput, AnyNode, AnyOutput, Problem } from "../nodes/define";
import type { PortKind } from "../nodes/ports";
import { lanesOfValues, VALUE_KINDS } from "../values/kinds";
import { outputsFromText, outputsToText } from "./outputs-as-text";
import { NodeScope } from "./scope";

type Inputs = Readonly<Record<string, unknown>>;

interface NodeMessage {
  readonly node: string;
  readonly type: string;
  readonly inputs: Inputs;
  readonly settings: PieceDocument["settings"];
  readonly frame: number;
  readonly region: Allocation;
  readonly places: Int32Array;
}

/** What a node left behind in a helper. */
export interface Made {
  readonly outputs: Readonly<Record<string, unknown>>;
  readonly problems: readonly Problem[];
  readonly readTime: boolean;
  readonly domains: readonly Domain[];
  /** It would have kept something for its next run, which did not cross. */
  readonly keeps: boolean;
  readonly ms: number;
}

/** What a helper writes down: the text of what it made, and where in its region something of it stands. */
interface Answer {
  readonly text: string;
  readonly allocations: readonly Allocation[];
}

/** Files do not cross, nor does what is carried from frame to frame. */
export const canBranch = ({
  type,
  inputs,
  outputs,
  otherFrames,
  stepping,
  ownKeys,
  needs,
}: AnyNode): boolean =>
  catalogue.has(type) &&
  !otherFrames &&
  !stepping &&
  !ownKeys &&
  // What is loaded is loaded for one thread.
  !needs &&
  [...Object.values<AnyInput>(inputs), ...Object.values<AnyOutput>(outputs)].every(
    ({ kind }) => VALUE_KINDS[kind as PortKind].crosses,
  );

/** Bytes that a helper may use for a node, beside those that its outputs had the last time. */
const REGION = 32 * 2 ** 20;

interface Branch {
  readonly helper: Helper;
  readonly task: Task;
  readonly region: Allocation;
  readonly inputs: Inputs;
}

export class Branches {
  private readonly running = new Map<string, Branch>();

  has(node: string): boolean {
    return this.running.has(node);
  }

  /** Gives a node to a free helper. False when there is none, or the inputs cannot cross. */
  begin(
    node: string,
    type: string,
    inputs: Inputs,
    settings: PieceDocument["settings"],
    frame: number,
    bytes: number,
  ): boolean {
    const helper = helpers()?.lend();
    if (!helper) return false;
    const { memory } = engine();
    const task = new Task();
    const region = { address: 0, bytes: REGION + 3 * bytes };
    try {
      region.address = memory.allocate(region.bytes);
      const { places } = task;
      helper.postMessage({ node, type, inputs, settings, frame, region, places } satisfies NodeMessage);
    } catch {
      // There is no room for it, or something in the inputs is not plain data: it will be run here.
      memory.release(region.address);
      helpers()?.giveBack(helper);
      return false;
    }
    this.running.set(node, { helper, task, region, inputs });
    return true;
  }

  /**
   * What a helper made of a node, which becomes the current arena's; null when the node is to be run here after all.
   * @param short called when that is because it needed more memory than was set aside for it, with the bytes of that
   */
  finish(node: string, short: (bytes: number) => void): Made | null {
    const branch = this.running.get(node) as Branch;
    const { helper, task, region, inputs } = branch;
    const answered = task.wait(() => tick(Number.POSITIVE_INFINITY));
    this.running.delete(node);
    if (!answered) {
      // It may still write: its allocation is never used again.
      helper.terminate();
      return null;
    }
    helpers()?.giveBack(helper);
    const { memory } = engine();
    if (task.result === null) {
      if (task.wasShort) short(region.bytes);
      memory.release(region.address);
      return null;
    }
    const lanes: Lane[] = [];
    let read: { readonly made: Made; readonly allocations: readonly Allocation[] };
    try {
      const { buffer } = memory.memory;
      const [length] = new Int32Array(buffer, task.result, 1);
      const bytes = new Uint8Array(buffer, task.result + 4, length).slice();
      const { text, allocations } = JSON.parse(new TextDecoder().decode(bytes)) as Answer;
      const made = outputsFromText(text, inputs, buffer, (lane) => lanes.push(lane)) as Made;
      read = { made, allocations };
    } catch {
      // What cannot be read is as good as not made.
      memory.release(region.address);
      return null;
    }
    const { made, allocations } = read;
    memory.keepParts(region.address, allocations);
    const own = new Set(allocations.map(({ address }) => address));
    for (const lane of lanes) if (own.has(lane.byteOffset)) currentArena().adopt(lane);
    return made;
  }

  /** Stops all that still run; none writes any more when this returns. */
  stop(): void {
    for (const { task } of this.running.values()) task.stop();
    for (const { helper, task, region } of this.running.values()) {
      if (task.wait()) {
        helpers()?.giveBack(helper);
        engine().memory.release(region.address);
      } else helper.terminate();
    }
    this.running.clear();
  }
}

/** What a helper does with any message: ranges of programs, or whole nodes. */
export function helpWithAny(message: HelperMessage | NodeMessage): void {
  if ("region" in message) new Task(message.places).perform(() => workOut(message));
  else help(message);
}

/** Returns the address of what it made, as text. */
function workOut({ node, type, inputs, settings, frame, region }: NodeMessage): number {
  const definition = catalogue.get(type);
  if (!definition) throw new Error(`There is no node of type "${type}".`);
  const begun = performance.now();
  const { kernels, memory } = engine();
  setEngine({ kernels, memory: KernelMemory.within(memory.memory, region.address, region.bytes) });
  const arena = new Arena();
  try {
    return arena.within(() => {
      const scope = new NodeScope(node, { settings }, frame, null);
      const outputs: Record<string, unknown> = definition.evaluate(inputs, scope);
      const { problems, readTime, domains, left } = scope;
      arena.keepOnly(lanesOf(definition, outputs, domains));
      const ms = performance.now() - begun;
      const made: Made = { outputs, problems, readTime, domains, keeps: left !== null, ms };
      const text = outputsToText(made, inputs);
      return placeText(JSON.stringify({ text, allocations: arena.allocations } satisfies Answer));
    });
  } finally {
    arena.abandon();
  }
}

/** Address of a length in bytes and the text after it. */
function placeText(text: string): number {
  const bytes = new TextEncoder().encode(text);
  const room = integersInMemory(1 + Math.ceil(bytes.length / 4));
  room[0] = bytes.length;
  new Uint8Array(room.buffer, room.byteOffset + 4, bytes.length).set(bytes);
  return room.byteOffset;
}

function* lanesOf(
  definition: AnyNode,
  outputs: Readonly<Record<string, unknown>>,
  domains: readonly Domain[],
): Generator<Lane> {
  yield* lanesOfValues(definition.outputs, outputs);
  for (const domain of domains) yield* lanesIn(domain);
}
