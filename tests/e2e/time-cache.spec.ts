/** Frames that are worked out ahead: seen on the strip, stopped half-way, made stale by a change, and gone on from after a reload. */
import { openPiece, saved, savedDocument, tally } from "./helpers";
import { expect, type Page, test } from "./own-studio";

const bar = (page: Page) => page.getByRole("img", { name: /frames are worked out/ });
const told = async (page: Page): Promise<string> => (await bar(page).getAttribute("aria-label")) ?? "";
const ready = async (page: Page): Promise<number> => Number(/^(\d+) of/.exec(await told(page))?.[1]);

/** The sprouts that remember, over so many frames. */
async function sprouts(page: Page, last: number): Promise<void> {
  await openPiece(page, "Sprouts that remember");
  const document = await savedDocument(page);
  const settings = { ...document.settings, last };
  const data = { document: { ...document, name: `Sprouts ${last}`, settings } };
  const { id } = (await (await page.request.post("/api/pieces", { data })).json()) as { id: string };
  await page.goto(`/piece/${id}`);
  await expect(page.locator("[data-node=stage]")).toHaveAttribute("data-state", /ran|reused/);
}

test("the range is worked out, stopped half-way, gone on with, and made stale by a change", async ({
  page,
}) => {
  await sprouts(page, 600);
  const begin = page.getByRole("button", { name: /^Work out the range/ });
  await begin.click();
  await expect(
    page.getByRole("status").filter({ hasText: /\d+ of 601 frames, about \d+ s left/ }),
  ).toBeVisible();
  await expect.poll(() => ready(page)).toBeGreaterThan(5);
  await page.getByRole("button", { name: /^Stop working out/ }).click();
  await expect(begin).toBeVisible();
  const half = await ready(page);
  expect(half).toBeLessThan(601);
  await page.keyboard.press("Shift+R");
  await expect.poll(() => ready(page)).toBeGreaterThan(half + 5);
  const dial = page.getByRole("region", { name: "Dials" }).getByRole("spinbutton").first();
  await dial.click();
  await page.keyboard.type("0.5");
  await page.keyboard.press("Enter");
  // What is worked out ahead is of another piece now, so that ends too.
  await expect(begin).toBeVisible();
  await expect.poll(() => told(page)).toMatch(/a change made \d+ stale/);
});

test("after a reload a frame is gone on to from disk", async ({ page }) => {
  await sprouts(page, 40);
  await page.getByRole("button", { name: /^Work out the range/ }).click();
  await expect.poll(() => ready(page)).toBe(41);
  await expect.poll(() => told(page)).toMatch(/can be gone on from after a reload/);
  await expect(saved(page)).toBeVisible();
  await page.reload();
  await expect(page.locator("[data-node=stage]")).toHaveAttribute("data-state", /ran|reused/);
  await expect.poll(() => told(page)).toMatch(/^0 of 41 .*can be gone on from after a reload/);
  await page.keyboard.press("End");
  await expect(tally(page)).toContainText("frame 40");
});
