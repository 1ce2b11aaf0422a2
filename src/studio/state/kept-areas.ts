/** How the areas of the studio were last laid out, by piece. */
import { z } from "zod";
import { keptList } from "./kept-list";

export const ARRANGEMENTS = ["beside", "under", "sheet"] as const;
export type Arrangement = (typeof ARRANGEMENTS)[number];

/** Parts of a whole in percent, by the panel's id. */
const Parts = z.record(z.string(), z.number().min(0).max(100));

const Areas = z.object({
  arrangement: z.enum(ARRANGEMENTS),
  /** By the group of panels. */
  parts: z.record(z.string(), Parts),
  /** Height of what is open under the stage, pixels. */
  drawer: z.number().positive().optional(),
});
export type Areas = z.infer<typeof Areas>;

const kept = keptList("glemmo areas", Areas);
const USUAL: Areas = { arrangement: "beside", parts: {} };

export const keptAreas = (piece: string): Areas => kept.get(piece) ?? USUAL;
export const keepAreas = (piece: string, change: Partial<Areas>): void =>
  kept.keep(piece, { ...keptAreas(piece), ...change });
