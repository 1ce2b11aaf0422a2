/** The browser's engine and the command line work out the same bytes. */
import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, test } from "@playwright/test";
import { openPiece, tally } from "./helpers";

const FRAME = 7;

for (const [demo, name] of [
  ["21-open-day-wall", "Open Day wall"],
  ["23-beds-in-a-wave", "Beds in a wave"],
] as const) {
  test(`${name}: every number of a frame is the same in Chromium and in Node`, async ({ page }) => {
    const folder = mkdtempSync(join(tmpdir(), "glemmo-bits-"));
    const out = join(folder, "frame.csv");
    const call = ["export", `demo:${demo}`, "--format", "csv", "--frames", String(FRAME), "--out", out];
    execFileSync("npx", ["tsx", "src/cli/main.ts", ...call]);
    await openPiece(page, name);
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
}
