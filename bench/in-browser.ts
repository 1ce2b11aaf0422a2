/** The studio in Chromium, and frame times while something in it is dragged. */
import { spawn } from "node:child_process";
import { rmSync } from "node:fs";
import { chromium, type Page } from "@playwright/test";
import { CHROMIUM, CHROMIUM_ARGS } from "../scripts/chromium";
import type { PieceDocument } from "../src/core/document/schema";
import { median } from "./measure";

const PORT = 4393;
const BASE = `http://127.0.0.1:${PORT}`;
const DATA = ".bench-data";
/** Drags of each piece, taken in turns. */
const ROUNDS = 3;

/** Milliseconds a frame while the mouse goes to and fro from a place, its button down. */
export async function dragging(page: Page, [x, y]: readonly [number, number], moves = 60): Promise<number> {
  // As text: what is compiled here knows functions that a page does not have.
  await page.evaluate(
    "window.frameTimes = [], requestAnimationFrame(function note(at) { frameTimes.push(at); requestAnimationFrame(note); })",
  );
  await page.mouse.move(x, y);
  await page.mouse.down();
  for (let i = 0; i < moves; i++) await page.mouse.move(x - 200 * Math.sin(i / 6), y - 120 * Math.sin(i / 9));
  await page.mouse.up();
  const frames = (await page.evaluate("frameTimes")) as number[];
  // The mean: half of the frames are drawn while nothing has moved, so a median would not see the slow ones.
  return (frames[frames.length - 1] - frames[0]) / (frames.length - 1);
}

/** The same while the stage's camera is turned. */
export async function turning(page: Page): Promise<number> {
  const box = await page.getByLabel("The result").boundingBox();
  if (!box) throw new Error("There is no stage.");
  return dragging(page, [box.x + box.width / 2, box.y + box.height / 2], 12);
}

/** Medians of what is measured of each piece, opened and worked out. Needs the application built. `flags` are Chromium's. */
export async function inStudio(
  documents: readonly PieceDocument[],
  measure: (page: Page) => Promise<number>,
  ...flags: string[]
): Promise<number[]> {
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
    const times = documents.map((): number[] => []);
    for (let round = 0; round < ROUNDS; round++) {
      for (const [d, document] of documents.entries()) {
        const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
        const answer = await page.request.post(`${BASE}/api/pieces`, { data: { document } });
        const { id } = (await answer.json()) as { id: string };
        await page.goto(`${BASE}/piece/${id}`);
        // Worked out: the graph is drawn and at rest.
        await page.locator("[data-node=stage][data-state]").waitFor();
        times[d].push(await measure(page));
        await page.close();
      }
    }
    return times.map(median);
  } finally {
    await browser.close();
    if (server.pid) process.kill(-server.pid);
    rmSync(DATA, { recursive: true, force: true });
  }
}
