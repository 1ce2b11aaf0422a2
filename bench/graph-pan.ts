/** Frame times of the node canvas while it is dragged, in a browser: a graph of many nodes against an empty one. */
import { spawn } from "node:child_process";
import { rmSync } from "node:fs";
import { chromium, type Page } from "@playwright/test";
import { CHROMIUM, CHROMIUM_ARGS } from "../scripts/chromium";
import { blankDocument, type PieceDocument } from "../src/core/document/schema";
import { median, type Pair } from "./measure";

const PORT = 4393;
const BASE = `http://127.0.0.1:${PORT}`;
const DATA = ".bench-data";
/** Drags of each graph, taken in turns. */
const ROUNDS = 3;

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
async function groundIn(page: Page, box: { x: number; y: number; width: number; height: number }) {
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

/** Milliseconds a frame while the ground of the graph is dragged to and fro. */
async function dragging(page: Page): Promise<number> {
  const box = await page.getByRole("region", { name: "Graph", exact: true }).boundingBox();
  if (!box) throw new Error("There is no graph.");
  // As text: what is compiled here knows functions that a page does not have.
  await page.evaluate(
    "window.frameTimes = [], requestAnimationFrame(function note(at) { frameTimes.push(at); requestAnimationFrame(note); })",
  );
  const [x, y] = await groundIn(page, box);
  await page.mouse.move(x, y);
  await page.mouse.down();
  for (let i = 0; i < 60; i++) await page.mouse.move(x - 200 * Math.sin(i / 6), y - 120 * Math.sin(i / 9));
  await page.mouse.up();
  const frames = (await page.evaluate("frameTimes")) as number[];
  // The mean: half of the frames are drawn while nothing has moved, so a median would not see the slow ones.
  return (frames[frames.length - 1] - frames[0]) / (frames.length - 1);
}

/** Medians over all drags, milliseconds a frame. Needs the application built. `flags` are Chromium's. */
export async function graphPan(count: number, ...flags: string[]): Promise<Pair> {
  rmSync(DATA, { recursive: true, force: true });
  const server = spawn("npx", ["next", "start", "--hostname", "127.0.0.1", "--port", String(PORT)], {
    env: { ...process.env, GLEMMO_DATA: DATA },
    stdio: "ignore",
    detached: true,
  });
  const browser = await chromium.launch({ executablePath: CHROMIUM, args: [...CHROMIUM_ARGS, ...flags] });
  try {
    const up = () =>
      fetch(`${BASE}/api/pieces`).then(
        (r) => r.ok,
        () => false,
      );
    for (let i = 0; i < 60 && !(await up()); i++) await new Promise((done) => setTimeout(done, 500));
    const times = new Map<number, number[]>([
      [0, []],
      [count, []],
    ]);
    for (let round = 0; round < ROUNDS; round++) {
      for (const [nodes, measured] of times) {
        const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
        const answer = await page.request.post(`${BASE}/api/pieces`, { data: { document: graphOf(nodes) } });
        const { id } = (await answer.json()) as { id: string };
        await page.goto(`${BASE}/piece/${id}`);
        // Worked out: the graph is drawn and at rest.
        await page.locator("[data-node=stage][data-state]").waitFor();
        await page.keyboard.press("2");
        await page.waitForTimeout(1500);
        measured.push(await dragging(page));
        await page.close();
      }
    }
    return { ours: median(times.get(count) ?? []), other: median(times.get(0) ?? []) };
  } finally {
    await browser.close();
    if (server.pid) process.kill(-server.pid);
    rmSync(DATA, { recursive: true, force: true });
  }
}
