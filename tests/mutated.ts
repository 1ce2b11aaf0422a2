/** Files with a few bytes cut out and others put in: reading one has to give a good result or an error that names it. */
import fc from "fast-check";

const RUNS = 2000;

/** How the engine words what went wrong in it, which says nothing to the one whose file it is. */
const ENGINE_WORDS =
  /undefined|null \(|is not a function|is not iterable|Cannot read|Invalid array length|Array buffer allocation|out of bounds|Invalid typed array|Offset is outside/;

/** @param read reads a file, checks what came of it, and rejects when it cannot be read */
export async function readsMutated(
  originals: Readonly<Record<string, Uint8Array>>,
  read: (file: string, bytes: Uint8Array) => Promise<void>,
): Promise<void> {
  for (const [file, original] of Object.entries(originals)) {
    await fc.assert(
      fc.asyncProperty(
        fc.nat(original.length - 1),
        fc.nat(8),
        fc.uint8Array({ maxLength: 5 }),
        async (at, cut, put) => {
          const mutated = new Uint8Array([
            ...original.subarray(0, at),
            ...put,
            ...original.subarray(at + cut),
          ]);
          try {
            await read(file, mutated);
          } catch (error) {
            expect((error as Error).message).toContain(file);
            expect((error as Error).message).not.toMatch(ENGINE_WORDS);
          }
        },
      ),
      { numRuns: RUNS },
    );
  }
}
