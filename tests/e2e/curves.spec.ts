/** Values over time as curves: keys and handles are dragged with the pointer and moved with the keyboard. */

import { valueAt } from "../../src/core/keys/track";
import { openPiece, saved, savedDocument } from "./helpers";
import { expect, test } from "./own-studio";

test("a key and a handle are dragged on the curve of a value", async ({ page }) => {
  test.slow();
  await openPiece(page, "Seed beds rising");
  const trackOf = async () => {
    await expect(saved(page)).toBeVisible();
    const { graph } = await savedDocument(page);
    const track = graph.nodes.find(({ id }) => id === "cold")?.keys?.outer;
    if (!track) throw new Error("There are no keys.");
    return track;
  };
  // The graph alone, with the strip: the stage is slow to draw here.
  await page.keyboard.press("2");
  await page.keyboard.press("s");
  await page.getByRole("button", { name: "Values as curves" }).click();
  await page.getByRole("button", { name: /outer of cold, key at 30/ }).click();
  const curves = page.getByRole("region", { name: "Curves" });
  const drag = async (name: RegExp, dx: number, dy: number) => {
    const box = await curves.getByRole("button", { name }).boundingBox();
    if (!box) throw new Error(`There is no ${name}.`);
    const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.mouse.move(x + dx, y + dy, { steps: 4 });
    await page.mouse.up();
  };
  await drag(/^Key 2 of outer of cold/, 0, -40);
  const raised = await trackOf();
  expect(raised.keys[1].value as number).toBeGreaterThan(2);
  expect(raised.keys[1].frame).toBe(30);
  expect(raised.keys[1].ease).toBe("ease-in-out");

  await drag(/^Handle before key 2 of outer of cold/, -60, 0);
  const bent = await trackOf();
  expect(bent.keys[0].ease).toHaveLength(4);
  // The value comes nearer to the second key earlier.
  const middle = (track: typeof bent) => valueAt(track, { kind: "number" }, 20) as number;
  expect(middle(bent)).toBeLessThan(middle(raised));

  await curves.getByRole("button", { name: /^Key 2 of outer of cold/ }).focus();
  await page.keyboard.press("ArrowRight");
  await expect.poll(async () => (await trackOf()).keys[1].frame).toBe(31);
  await page.keyboard.press("Control+z");
  await page.keyboard.press("Control+z");
  await expect.poll(async () => (await trackOf()).keys[0].ease).toBe("ease-in-out");
});
