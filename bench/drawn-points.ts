/** Frame times of the stage while its camera turns: many points with sizes and colours of their own against the same points drawn bare. */
import type { Page } from "@playwright/test";
import type { PieceDocument } from "../src/core/document/schema";
import { dragging, inStudio } from "./in-browser";
import type { Pair } from "./measure";
import { type Nodes, piece } from "./pieces";

function pointsOf(count: number, dressed: boolean): PieceDocument {
  const nodes: Nodes = {
    grid: ["grid-sites", { across: 1000, deep: count / 1000, spacing: [0.01, 0.01, 0.01] }],
    chance: ["random"],
    wide: ["random", { low: 0.004, high: 0.01, seed: 2 }],
    size: ["line-thickness"],
    hue: ["gradient"],
    tint: ["tint"],
    stage: ["stage"],
  };
  return piece(nodes, [
    "grid.sites>size.shape",
    "wide.value>size.thickness",
    "chance.value>hue.value",
    "hue.color>tint.color",
    "size.shape>tint.shape",
    `${dressed ? "tint.shape" : "grid.sites"}>stage.shape`,
  ]);
}

export async function turning(page: Page): Promise<number> {
  const box = await page.getByLabel("The result").boundingBox();
  if (!box) throw new Error("There is no stage.");
  return dragging(page, [box.x + box.width / 2, box.y + box.height / 2], 12);
}

export async function drawnPoints(count: number): Promise<Pair> {
  const [other, ours] = await inStudio([pointsOf(count, false), pointsOf(count, true)], turning);
  return { ours, other };
}
