/** What Zod found, in our own words. */
import type { z } from "zod";
import type { DocumentFault } from "./fault";

export const pathText = (path: readonly PropertyKey[]): string =>
  path.map((p, i) => (typeof p === "number" ? `[${p}]` : i === 0 ? String(p) : `.${String(p)}`)).join("");

/** @param raw what was held against the schema */
export const faultOf = (issue: z.core.$ZodIssue, raw: unknown): DocumentFault => ({
  where: pathText(issue.path),
  what: issue.code === "invalid_type" ? typeFault(issue.expected, valueAt(raw, issue.path)) : issue.message,
});

const typeFault = (expected: string, value: unknown): string =>
  value === undefined ? `is missing; ${expected} is needed` : `must be ${expected}`;

function valueAt(raw: unknown, path: readonly PropertyKey[]): unknown {
  let value = raw;
  for (const key of path) value = (value as Record<PropertyKey, unknown> | null | undefined)?.[key];
  return value;
}
