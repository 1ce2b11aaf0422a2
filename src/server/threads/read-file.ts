/**
 * Files that are sent to the server are read in a thread of their own, with limits of time and memory: whatever is in
 * one, other requests never wait for it, and the server does not end with it. One is read at a time.
 */
import { Worker } from "node:worker_threads";
import { programFile } from "../files";
import { type Fault, HttpFault } from "../http-fault";
import type { OpenBundle } from "../open-bundle";

export interface FileQuestion {
  readonly kind: "asset" | "bundle";
  readonly file: string;
  readonly bytes: Uint8Array;
}

export type FileAnswer =
  | { readonly ok: true; readonly bundle?: OpenBundle }
  | { readonly ok: false; readonly status: number; readonly faults: readonly Fault[] };

export interface ReadingLimits {
  readonly milliseconds: number;
  /** Of objects, in megabytes. */
  readonly heap: number;
  /** Of everything, beside what the server had before, in megabytes. */
  readonly memory: number;
}

export const READING_LIMITS: ReadingLimits = { milliseconds: 60_000, heap: 1024, memory: 3072 };

/** Milliseconds between two looks at how much memory is taken. */
const LOOK_EVERY = 100;

let last: Promise<unknown> = Promise.resolve();

/**
 * Reads a file to its end, or until `signal` says that nobody waits for it any more.
 * @param bytes are left as they are
 * @throws HttpFault saying what is wrong with it, or that it took too long or too much
 */
export function readFile(
  question: FileQuestion,
  signal?: AbortSignal,
  limits: ReadingLimits = READING_LIMITS,
): Promise<FileAnswer & { ok: true }> {
  const mine = last.then(() => readNow(question, signal, limits));
  last = mine.catch(() => undefined);
  return mine;
}

function readNow(
  question: FileQuestion,
  signal: AbortSignal | undefined,
  { milliseconds, heap, memory }: ReadingLimits,
): Promise<FileAnswer & { ok: true }> {
  return new Promise((done, fail) => {
    const refuse = (status: number, what: string) =>
      end(() => fail(new HttpFault(status, `“${question.file}” ${what}`)));
    if (signal?.aborted) return fail(new HttpFault(499, "Nobody waits for this any more."));
    const before = process.memoryUsage.rss();
    const worker = new Worker(programFile("reading-thread"), {
      resourceLimits: { maxOldGenerationSizeMb: heap },
    });
    const stopped = () => end(() => fail(new HttpFault(499, "Nobody waits for this any more.")));
    const timer = setTimeout(
      () =>
        refuse(
          422,
          `takes more than ${Math.round(milliseconds / 1000)} seconds to read. Make it smaller, or simpler, first.`,
        ),
      milliseconds,
    );
    const tooMuch = () =>
      refuse(422, "takes more memory to read than there is. Make it smaller, or simpler, first.");
    const watch = setInterval(() => {
      if (process.memoryUsage.rss() - before > memory * 2 ** 20) tooMuch();
    }, LOOK_EVERY);
    let ended = false;
    function end(settle: () => void): void {
      if (ended) return;
      ended = true;
      clearTimeout(timer);
      clearInterval(watch);
      signal?.removeEventListener("abort", stopped);
      // What comes after it waits until its memory is free.
      void worker.terminate().finally(settle);
    }
    signal?.addEventListener("abort", stopped);
    worker.on("message", (answer: FileAnswer) =>
      end(() => (answer.ok ? done(answer) : fail(new HttpFault(answer.status, answer.faults)))),
    );
    worker.on("error", (error: Error & { code?: string }) => {
      if (error.code === "ERR_WORKER_OUT_OF_MEMORY") tooMuch();
      else {
        console.error(error);
        refuse(422, "cannot be read: reading it failed unexpectedly.");
      }
    });
    worker.postMessage(question);
  });
}
