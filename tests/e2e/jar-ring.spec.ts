/** Piece 16 with the real pointer and keyboard: a ring of 12, then 13, from a blank piece to a valid file. */
import { readFileSync } from "node:fs";
import { validateBytes } from "gltf-validator";
import { addNode, newPiece, saved, tally, typeNumber, unfold } from "./helpers";
import { expect, test } from "./own-studio";

test("build it, change 12 to 13, scrub, reload, find it saved, take a valid GLB away", {
  tag: "@quick",
}, async ({ page }) => {
  await newPiece(page);
  await expect(page.getByRole("region", { name: "Graph", exact: true })).toBeVisible();
  await expect(page.locator("[data-node=stage]")).toContainText("No shape arrives");

  await page.keyboard.press("2");
  await addNode(page, [140, 130], "around circle", "Ring sites");
  await addNode(page, [140, 480], "box", "Box");
  await addNode(page, [420, 130], "copy", "Clone onto sites");
  // They link themselves.
  await page.keyboard.press("2");
  await expect(tally(page)).toContainText("12 clones");

  await page.keyboard.press("2");
  await typeNumber(page, "count of ring-sites", "13");
  await expect(tally(page)).toContainText("13 clones");
  // 360/13 = 27.692307…°, typed as arithmetic.
  await unfold(page, "ring-sites");
  await typeNumber(page, "start of ring-sites", "360/13");
  await expect(page.getByRole("spinbutton", { name: "start of ring-sites" }).first()).toContainText("27.692");
  await page.keyboard.press("2");

  const ruler = await page.getByRole("slider", { name: "Frame" }).boundingBox();
  if (!ruler) throw new Error("There is no ruler.");
  await page.mouse.move(ruler.x + 4, ruler.y + 30);
  await page.mouse.down();
  await page.mouse.move(ruler.x + ruler.width / 2, ruler.y + 30, { steps: 6 });
  await page.mouse.up();
  await expect(tally(page)).toContainText(/frame (99|100)/);
  await page.keyboard.press("ArrowRight");
  await expect(tally(page)).toContainText(/frame (100|101)/);

  await expect(saved(page)).toBeVisible();
  await page.reload();
  await expect(tally(page)).toContainText("13 clones");

  await page.keyboard.press("Control+e");
  await page.getByRole("radio", { name: /3D file/ }).check();
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("dialog").getByRole("button", { name: "Take away" }).click(),
  ]);
  expect(download.suggestedFilename()).toBe("untitled-piece-0.glb");
  const { issues } = await validateBytes(new Uint8Array(readFileSync(await download.path())));
  expect([issues.numErrors, issues.numWarnings]).toEqual([0, 0]);
});
