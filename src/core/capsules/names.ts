/** Names for capsules and their ports that are free. */
import { numbered } from "../document/numbered";

/** Title as the name of a capsule: letters, digits and dashes, with a number when it is taken. */
export function freshName(taken: readonly string[], title: string): string {
  const words = title
    .normalize("NFKD")
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^[^a-z]+|-+$/g, "")
    .slice(0, 40);
  return numbered(new Set(taken), words || "capsule");
}

export const freshPort = (ports: readonly { readonly name: string }[], wanted: string): string =>
  numbered(new Set(ports.map(({ name }) => name)), wanted);
