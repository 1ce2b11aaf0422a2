/** Frame times of the node canvas while it is dragged, in a browser: a graph of many nodes against an empty one. */
import type { Page } from "@playwright/test";
import { blankDocument, type PieceDocument } from "../src/core/document/schema";
import { dragging, inStudio } from "./in-browser";
import type { Pair } from "./measure";

/** A grid of arithmetic, each fed by the one before, beside a Stage. */
function graphOf(count: number): PieceDocument {
  const blank = blankDocument(`${count} nodes`);
  const nodes = Array.from({ length: count }, (_, i) => ({
    id: `n${i}`,
    type: "arithmetic",
    at: [(i % 20) * 260, Math.floor(i / 20) * 170] as [number, number],
    set: {},
  }));
  const links = nodes.slice(1).map(({ id }, i) => ({ from: `n${i}.value`, to: `${id}.a` }));
  const stage = { id: "stage", type: "stage", at: [-300, 0] as [number, number], set: {} };
  return { ...blank, graph: { nodes: [stage, ...nodes], links } };
}

/** A place between the cards: on one of them it would be the card that is dragged. */
async function groundIn(
  page: Page,
  box: { x: number; y: number; width: number; height: number },
): Promise<[number, number]> {
  const found = (await page.evaluate(
    `(() => {
      const [left, top, right, bottom] = ${JSON.stringify([box.x, box.y, box.x + box.width, box.y + box.height])};
      for (let y = (top + bottom) / 2; y < bottom; y += 3)
        for (let x = (left + right) / 2; x < right; x += 3)
          if (document.elementFromPoint(x, y)?.classList.contains("react-flow__pane")) return [x, y];
    })()`,
  )) as [number, number] | undefined;
  if (!found) throw new Error("No ground is seen between the cards.");
  return found;
}

async function draggingGround(page: Page): Promise<number> {
  await page.keyboard.press("2");
  await page.waitForTimeout(1500);
  const box = await page.getByRole("region", { name: "Graph", exact: true }).boundingBox();
  if (!box) throw new Error("There is no graph.");
  const ground = await groundIn(page, box);
  // Once without the clock: what the browser compiles and paints at the first drag it keeps for all others.
  await dragging(page, ground);
  return dragging(page, ground);
}

/** Milliseconds a frame; `flags` are Chromium's. */
export async function graphPan(count: number, ...flags: string[]): Promise<Pair> {
  const [other, ours] = await inStudio([graphOf(0), graphOf(count)], draggingGround, ...flags);
  return { ours, other };
}
