/** Rapier (S. Crozet), which moves rigid pieces, in WebAssembly; this build of it gives the same bits everywhere. */
import type Rapier from "@dimforge/rapier3d-deterministic-compat";
import { Library } from "../library";

let library: typeof Rapier | null = null;

export const PHYSICS = new Library("physics of rigid pieces", async () => {
  const { default: loaded } = await import("@dimforge/rapier3d-deterministic-compat");
  await loaded.init();
  library = loaded;
});

/** @throws Error before PHYSICS is loaded */
export function rapier(): typeof Rapier {
  if (!library) throw new Error("Rapier is not loaded.");
  return library;
}
