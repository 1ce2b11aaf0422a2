/** What nodes a capsule gives: instances of it, and those in its graph where things come in, go out and come back. */
import type { AnyNode } from "../nodes/define";

export type CapsuleRole = "capsule" | "inputs-of" | "outputs-of" | "before-of";

/** How they are declared; "Step before" only of a Step loop. */
export type CapsuleDefinitions = Readonly<
  Record<Exclude<CapsuleRole, "before-of">, AnyNode> & Partial<Record<"before-of", AnyNode>>
>;
