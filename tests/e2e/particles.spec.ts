/** Particles: another source while they play, frames backwards, why one goes where it goes, and the order of forces. */
import { goToNode, openPiece, tally } from "./helpers";
import { expect, test } from "./own-studio";

test("another shape takes the burr's place while it plays, and as many leave it; back in time; one is traced", async ({
  page,
}) => {
  await openPiece(page, "Burr burst");
  await expect(tally(page)).toContainText("420 clones");
  const shape = page.getByRole("region", { name: "Dials" }).getByRole("spinbutton").first();
  await page.getByLabel("The result").click();
  await page.keyboard.press("Space");
  await shape.click();
  await page.keyboard.type("1");
  await page.keyboard.press("Enter");
  await expect(tally(page)).toContainText("420 clones");
  await page.getByRole("button", { name: "Pause" }).click();
  await page.keyboard.press("Home");
  await expect(tally(page)).toContainText("frame 0");
  for (let i = 0; i < 3; i++) await page.keyboard.press("ArrowRight");
  await expect(tally(page)).toContainText("frame 3");
  for (let i = 0; i < 2; i++) await page.keyboard.press("ArrowLeft");
  await expect(tally(page)).toHaveText(/^420 clones.*frame 1$/);
  // A row of the table is picked; the trace says what moves that grain.
  await goToNode(page, "Particles");
  await page.getByRole("button", { name: "Values", exact: true }).click();
  const inspect = page.getByRole("region", { name: "Inspect" });
  await inspect.getByRole("row").nth(3).click();
  await page.getByRole("button", { name: "Trace", exact: true }).click();
  await expect(inspect).toContainText("moved by");
  await expect(inspect.getByRole("button", { name: "Swirl force" })).toBeVisible();
  await expect(inspect).toContainText("units a second²");
  // Its numbers over the range; it is followed to a frame at which it is not there any more, or not yet.
  await page.getByRole("button", { name: "Over time", exact: true }).click();
  await expect(inspect).toContainText("length", { timeout: 30_000 });
  await inspect.getByRole("combobox", { name: "What is drawn" }).click();
  await page.getByRole("option", { name: "how many there are" }).click();
  await expect(inspect).toContainText("420");
});

test("forces stand in the drawer in their order, which is changed there and undone", async ({ page }) => {
  await openPiece(page, "Bees at the hives");
  await goToNode(page, "Particles");
  const list = page.getByRole("region", { name: "forces in order" }).getByRole("listitem");
  await expect(list).toHaveCount(9);
  await expect(list.first()).toContainText("Flock");
  await page.getByRole("button", { name: "Flock later" }).click();
  await expect(list.first()).toContainText("Attract");
  await page.keyboard.press("Control+z");
  await expect(list.first()).toContainText("Flock");
});
