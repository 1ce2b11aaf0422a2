/** How far the tour has come, by the piece in which it is taken. */
import { z } from "zod";
import { keptList } from "./kept-list";

export const keptTour = keptList(
  "glemmo tour",
  z.object({ step: z.number().int().min(0), shown: z.boolean() }),
);

/** Begins it in a piece, or takes it up where it was left. */
export const resumeTour = (piece: string): void =>
  keptTour.keep(piece, { step: keptTour.get(piece)?.step ?? 0, shown: true });
