/**
 * Makes the moving pictures of demo pieces and starters that are missing or older than their document, on a server and a shelf of
 * its own: the shelf draws what it has no picture of.
 */
import { mkdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { chromium } from "@playwright/test";
import type { PieceDocument } from "../src/core/document/schema";
import { demoNames, readDemo, shippedStarters } from "../src/server/demo";
import {
  MADE,
  PICTURES_FOLDER,
  pictureMark,
  picturesMade,
  shippedPicture,
} from "../src/server/shipped-pictures";
import { CHROMIUM, CHROMIUM_ARGS } from "./chromium";
import { serveOwnData } from "./own-server";

const documents = new Map<string, PieceDocument>([
  ...demoNames().map((name) => [name, readDemo(name)] as const),
  ...shippedStarters(),
]);
const missing = [...documents].filter(([name, document]) => !shippedPicture(name, document));
console.log(`${missing.length} of ${documents.size} pictures are to be made.`);
if (missing.length > 0) {
  const server = await serveOwnData(4393, ".pictures");
  const browser = await chromium.launch({ executablePath: CHROMIUM, args: [...CHROMIUM_ARGS] });
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  const list = async (): Promise<{ id: string; name: string; thumbnailFrames: number | null }[]> =>
    (await (await page.request.get(`${server.url}/api/pieces`)).json()).pieces;
  for (const [, document] of missing)
    if (!(await list()).some(({ name }) => name === document.name))
      await page.request.post(`${server.url}/api/pieces`, { data: { document } });
  await page.goto(server.url);
  mkdirSync(PICTURES_FOLDER, { recursive: true });
  const marks: Record<string, string> = { ...picturesMade() };
  for (const name of Object.keys(marks)) if (!documents.has(name)) delete marks[name];
  for (const [name, document] of missing) {
    for (;;) {
      const piece = (await list()).find((one) => one.name === document.name);
      if (piece?.thumbnailFrames) {
        const picture = await page.request.get(`${server.url}/api/pieces/${piece.id}/thumbnail`);
        writeFileSync(join(PICTURES_FOLDER, `${name}.webp`), await picture.body());
        break;
      }
      await page.waitForTimeout(500);
    }
    marks[name] = pictureMark(document);
    console.log(name);
  }
  const sorted = Object.fromEntries(Object.entries(marks).sort(([a], [b]) => (a < b ? -1 : 1)));
  writeFileSync(MADE, `${JSON.stringify(sorted, null, 2)}\n`);
  await browser.close();
  server.end();
}
