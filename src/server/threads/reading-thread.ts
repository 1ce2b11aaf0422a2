/** Reads one file that was sent to the server, and says what is wrong with it; see read-file.ts. */
import { parentPort } from "node:worker_threads";
import { FormatError } from "../../core/formats/format-error";
import { readAsset } from "../../core/formats/read/read-asset";
import { HttpFault } from "../http-fault";
import { openBundle } from "../open-bundle";
import type { FileAnswer, FileQuestion } from "./read-file";

async function answer({ kind, file, bytes }: FileQuestion): Promise<FileAnswer> {
  try {
    if (kind === "bundle") return { ok: true, bundle: openBundle(file, bytes) };
    await readAsset(file, bytes);
    return { ok: true };
  } catch (error) {
    if (error instanceof HttpFault) return { ok: false, status: error.status, faults: error.faults };
    if (error instanceof FormatError) return { ok: false, status: 422, faults: [{ what: error.message }] };
    // Engines say so where there is no room for an array, or calls go too deep.
    if (error instanceof RangeError)
      return { ok: false, status: 422, faults: [{ what: `“${file}” takes more memory than there is.` }] };
    throw error;
  }
}

parentPort?.on("message", async (question: FileQuestion) => {
  parentPort?.postMessage(await answer(question));
});
