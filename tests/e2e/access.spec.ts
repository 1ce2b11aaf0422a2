/** What stands in the way of those who see little, or hear the page read, by axe's rules (WCAG 2). */
import AxeBuilder from "@axe-core/playwright";
import { newPiece, openPiece, tally } from "./helpers";
import { expect, type Page, test } from "./own-studio";

// Looking through a page takes long, and one page does not need the other.
test.describe.configure({ mode: "parallel" });

/**
 * Serious faults and worse, a line each.
 * @param within what is open over the page, which is closed to everyone meanwhile; the whole page if nothing is
 */
async function faultsOf(page: Page, within = "html"): Promise<string[]> {
  const { violations } = await new AxeBuilder({ page }).include(within).analyze();
  return violations
    .filter(({ impact }) => impact === "serious" || impact === "critical")
    .map(({ id, nodes }) => `${id}: ${nodes.map(({ target }) => target.join(" ")).join("; ")}`);
}

test("no serious fault of access in the studio by day, with every drawer", async ({ page }) => {
  test.slow();
  await openPiece(page, "Jar ring");
  await expect(tally(page)).toHaveText(/clones/);
  await page.locator('[data-node="stage"]').click({ position: { x: 60, y: 10 } });
  await page.getByRole("button", { name: "Night or day" }).click();
  for (const key of ["v", "w", "y"]) {
    await page.keyboard.press(key);
    await expect(page.getByRole("button", { name: "Close the drawer" })).toBeVisible();
    expect(await faultsOf(page)).toEqual([]);
  }
});

test("none in the tour, an example, the menus, and with the graph under the stage and over it", async ({
  page,
}) => {
  test.slow();
  await page.goto("/");
  await page.getByRole("button", { name: "Tour", exact: true }).click();
  await expect(page.getByRole("complementary", { name: "Tour" })).toBeVisible();
  for (const way of [/Graph under/, /Graph as a sheet/]) {
    await page.getByRole("button", { name: way }).click();
    expect(await faultsOf(page)).toEqual([]);
  }
  await page.locator('[data-node="stage"]').click({ button: "right", position: { x: 20, y: 10 } });
  await expect(page.getByRole("menu")).toBeVisible();
  expect(await faultsOf(page, "[role=menu]")).toEqual([]);
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: "Example of Stage" }).click();
  await expect(page.getByRole("dialog", { name: /an example/ })).toBeVisible();
  expect(await faultsOf(page, "[role=dialog]")).toEqual([]);
});

test("none on the shelf and in a blank piece by night", async ({ page }) => {
  test.slow();
  await page.goto("/");
  await expect(page.getByRole("link", { name: "Petal clock", exact: true })).toBeVisible();
  expect(await faultsOf(page)).toEqual([]);
  await newPiece(page);
  expect(await faultsOf(page)).toEqual([]);
});
