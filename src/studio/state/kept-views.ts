/** How graphs were last looked at, by the piece and, in a capsule, the way there. */
import { z } from "zod";
import { keptList } from "./kept-list";

export const keptViews = keptList(
  "glemmo views",
  z.object({ x: z.number(), y: z.number(), zoom: z.number().positive() }),
);
