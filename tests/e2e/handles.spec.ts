/** A falloff is keyed by its handle on the stage; the piece plays, and is scrubbed backwards. */

import { openPiece, saved, savedDocument, tally } from "./helpers";
import { expect, test } from "./own-studio";

test("a falloff is moved and sized on the stage, and keyed on the way", async ({ page }) => {
  test.slow();
  await openPiece(page, "Seed beds rising");
  await page.locator("[data-id=cold]").focus();
  await page.keyboard.press("Enter");
  const stage = page.getByRole("region", { name: "Stage" });
  await expect(tally(page)).toContainText("225 clones");
  const handle = stage.getByRole("button", { name: /^middle of cold/ });
  await expect(handle).toBeVisible();
  const ruler = page.getByRole("slider", { name: "Frame", exact: true });
  const cold = async () => (await savedDocument(page)).graph.nodes.find(({ id }) => id === "cold");
  /** Drags until it took hold: pictures are slow without a graphics card, and a handle follows them. */
  const drag = async (dx: number, dy: number, done: () => Promise<void>) =>
    expect(async () => {
      const box = await handle.boundingBox();
      if (!box) throw new Error("There is no handle.");
      const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
      await page.mouse.move(x, y);
      await page.mouse.down();
      await page.mouse.move(x + dx, y + dy, { steps: 4 });
      await page.mouse.up();
      await page.waitForTimeout(1500);
      await expect(saved(page)).toBeVisible();
      await done();
    }).toPass({ timeout: 60_000 });
  await page.keyboard.press("a");
  await drag(40, 10, async () => expect((await cold())?.keys?.middle?.keys).toHaveLength(1));
  await ruler.focus();
  for (let i = 0; i < 2; i++) await page.keyboard.press("PageUp");
  await drag(-60, -5, async () =>
    expect((await cold())?.keys?.middle?.keys.map(({ frame }) => frame)).toEqual([0, 20]),
  );
  const keyed = (await cold())?.keys?.middle?.keys ?? [];
  // Seen from above it moves over the ground: its height stays.
  expect(keyed.map(({ value }) => (value as number[])[1])).toEqual([-0.6, -0.6]);
  expect(keyed[0].value).not.toEqual(keyed[1].value);

  await handle.focus();
  await page.keyboard.press("PageUp");
  await expect
    .poll(async () => ((await cold())?.keys?.middle?.keys[1].value as number[] | undefined)?.[1])
    .toBeCloseTo(-0.5, 3);

  await page.locator("body").click({ position: { x: 640, y: 20 } });
  await page.keyboard.press("Space");
  await expect(page.getByRole("button", { name: "Pause (Space)" })).toBeVisible();
  await expect.poll(async () => Number(await ruler.getAttribute("aria-valuenow"))).not.toBe(20);
  await page.keyboard.press("Space");
  const box = await ruler.boundingBox();
  if (!box) throw new Error("There is no ruler.");
  // Backwards to frame 10, where the place is half-way between its keys.
  await page.mouse.move(box.x + box.width * 0.5, box.y + 20);
  await page.mouse.down();
  await page.mouse.move(box.x + (box.width * 10) / 149, box.y + 20, { steps: 5 });
  await page.mouse.up();
  await expect(ruler).toHaveAttribute("aria-valuenow", "10");
  const label = (await handle.getAttribute("aria-label")) ?? "";
  const [x] = label.replace(/^.*: /, "").split(" ").map(Number);
  const ends = keyed.map(({ value }) => (value as number[])[0]);
  expect(x).toBeCloseTo((ends[0] + ends[1]) / 2, 1);
});
