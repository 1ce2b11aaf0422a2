/** Files with a few bytes cut out and others put in: reading one has to give a good result or an error that names it. */
import fc from "fast-check";

const RUNS = 2000;

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
          }
        },
      ),
      { numRuns: RUNS },
    );
  }
}
