/** Chromium and Node work out the same bytes. */
import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { build } from "esbuild";
import { demoAssets, demoNames, readDemo } from "../../src/server/demo";
import { FIRST_FRAMES, pieceChecksums } from "../threads/piece-checksums";
import { openPiece, tally } from "./helpers";
import { expect, type Page, test } from "./own-studio";

const FRAME = 7;

test("every number of a frame leaves the studio as it leaves the command line", async ({ page }) => {
  const folder = mkdtempSync(join(tmpdir(), "glemmo-bits-"));
  const out = join(folder, "frame.csv");
  const call = [
    "export",
    "demo:21-open-day-wall",
    "--format",
    "csv",
    "--frames",
    String(FRAME),
    "--out",
    out,
  ];
  execFileSync("npx", ["tsx", "src/cli/main.ts", ...call]);
  await openPiece(page, "Open Day wall");
  await expect(tally(page)).toContainText("frame 0");
  for (let i = 0; i < FRAME; i++) await page.keyboard.press("ArrowRight");
  await expect(tally(page)).toContainText(`frame ${FRAME}`);
  await page.keyboard.press("Control+e");
  await page.getByRole("radio", { name: /values/i }).check();
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("dialog").getByRole("button", { name: "Take away" }).click(),
  ]);
  expect(readFileSync(await download.path(), "utf8")).toBe(readFileSync(out, "utf8"));
});

const assets = demoAssets();
const pieces = demoNames().map((name) => ({ name, document: readDemo(name) }));

/** What `pieceChecksums` gives in a page. */
async function checksumsIn(
  page: Page,
  of: typeof pieces,
): Promise<Awaited<ReturnType<typeof pieceChecksums>>> {
  const { outputFiles } = await build({
    entryPoints: ["tests/threads/piece-checksums.ts"],
    bundle: true,
    write: false,
    format: "iife",
    globalName: "glemmoChecksums",
    target: "es2022",
    external: ["node:*"],
  });
  const files = [...assets].map(([hash, { bytes }]) => [hash, Buffer.from(bytes).toString("base64")]);
  // Evaluated by the debugger: the page's own policy lets no text become code.
  return page.evaluate(`(() => {
    ${outputFiles[0].text}
    const bytesOf = ([hash, text]) => [hash, Uint8Array.from(atob(text), (c) => c.charCodeAt(0))];
    const byHash = new Map(${JSON.stringify(files)}.map(bytesOf));
    return glemmoChecksums.pieceChecksums(${JSON.stringify(of)}, (hash) => byHash.get(hash), ${FIRST_FRAMES});
  })()`);
}

const expected = (of: typeof pieces) =>
  pieceChecksums(of, (hash) => assets.get(hash)?.bytes ?? new Uint8Array(), FIRST_FRAMES);

/** Pieces are parted evenly over so many tests, that none of them takes long. */
const PARTS = 3;

for (let part = 0; part < PARTS; part++) {
  const some = pieces.filter((_, i) => i % PARTS === part);
  const from = `${part + 1} of ${PARTS}`;
  test(`all demo pieces are the same bits in Chromium and in Node, ${from}`, async ({ page }) => {
    await page.goto("/");
    expect(await page.evaluate("crossOriginIsolated")).toBe(true);
    expect(await checksumsIn(page, some)).toEqual(await expected(some));
  });
}

test("a page that is not isolated works pieces out all the same", async ({ page }) => {
  await page.goto("about:blank");
  expect(await page.evaluate("crossOriginIsolated")).toBe(false);
  const some = pieces.slice(0, 3);
  expect(await checksumsIn(page, some)).toEqual(await expected(some));
});
