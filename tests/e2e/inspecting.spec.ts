/** Looking into a piece: picking on the stage, the table, fitting, peeking, steps and dials. */

import { goToNode, openPiece, ringPiece, saved, tally } from "./helpers";
import { expect, type Page, test } from "./own-studio";

const card = (page: Page, node: string) => page.locator(`[data-node="${node}"]`);
const flap = { position: { x: 60, y: 10 } } as const;

test("a clone picked on the stage is traced through the cards, and its row is the one that is marked", async ({
  page,
}) => {
  await openPiece(page, "Jar ring");
  await expect(tally(page)).toHaveText(/^12 clones/);
  await page.keyboard.press("w");
  const inspect = page.getByRole("region", { name: "Inspect" });
  await expect(inspect).toContainText("Click a clone on the stage");
  const stage = await page.getByLabel("The result").boundingBox();
  if (!stage) throw new Error("There is no stage.");
  // Some place along a line over the ring meets a jar.
  const found = inspect.getByText(/Element \d+ of 12/);
  for (let i = 2; i < 16 && !(await found.isVisible()); i++) {
    await page.mouse.click(stage.x + (stage.width * i) / 16, stage.y + stage.height * 0.48);
    await page.waitForTimeout(900);
  }
  const element = (await found.textContent())?.match(/Element (\d+)/)?.[1] ?? "";
  await page.getByRole("button", { name: "Values", exact: true }).click();
  await expect(inspect.getByRole("row", { selected: true }).getByRole("gridcell").first()).toHaveText(
    element,
  );
  // Sorted by a column, described beside, and narrowed by a condition.
  await inspect.getByRole("button", { name: "position.x" }).click();
  await expect(inspect.getByRole("complementary")).toContainText("median");
  await inspect.getByLabel("Show only rows where").fill("position.x > 0 &&");
  await expect(inspect.getByRole("alert")).toContainText("Character");
  await inspect.getByLabel("Show only rows where").fill("position.x > 0.001");
  await expect(inspect).toContainText("5 of 12");
});

test("a gradient is fitted to what arrives, kept so when that changes, and undone in one step with the change", async ({
  page,
}) => {
  await openPiece(page, "Seed head, breathing");
  await card(page, "heat").click(flap);
  const fit = page.getByRole("region", { name: "Fit to what arrives" });
  await expect(fit).toContainText("arrives");
  const low = page.getByRole("region", { name: "Detail" }).getByRole("spinbutton", { name: "low of heat" });
  const before = await low.getAttribute("aria-valuenow");
  await fit.getByRole("button", { name: "Fit whole" }).click();
  await expect(low).not.toHaveAttribute("aria-valuenow", before ?? "");
  const fitted = await low.getAttribute("aria-valuenow");
  await fit.getByRole("switch", { name: "Keep it fitted" }).click();
  await expect(fit).toContainText("Fitted again with every change");
  await expect(low).not.toHaveAttribute("aria-valuenow", fitted ?? "");
  const kept = await low.getAttribute("aria-valuenow");
  // The noise that it is made of is made stronger: the range follows, as a part of that step.
  await page
    .getByRole("spinbutton", { name: "strength of lumps" })
    .or(page.getByRole("region", { name: "Dials" }).getByRole("spinbutton", { name: /strength/ }))
    .first()
    .press("Alt+ArrowUp");
  await expect(low).not.toHaveAttribute("aria-valuenow", kept ?? "");
  await page.keyboard.press("Control+z");
  await expect(low).toHaveAttribute("aria-valuenow", kept ?? "");
});

test("dials: snapshots are kept, used and compared; a play layout shows only them and the stage", async ({
  page,
}) => {
  await openPiece(page, "Petal clock");
  await expect(tally(page)).toHaveText(/clones/);
  const dials = page.getByRole("region", { name: "Dials" });
  await dials.getByRole("button", { name: "Keep these" }).click();
  const hours = dials.getByRole("spinbutton", { name: "count of hours" });
  await hours.press("ArrowUp");
  await expect(hours).toHaveAttribute("aria-valuenow", "13");
  await dials.getByRole("button", { name: "Compare with Look 1" }).click();
  await expect(page.getByLabel("The result with Look 1")).toBeVisible();
  await dials.getByRole("button", { name: "Use", exact: true }).click();
  await expect(hours).toHaveAttribute("aria-valuenow", "12");
  await page.keyboard.press("3");
  const graph = page.getByRole("region", { name: "Graph", exact: true });
  await expect(graph).toBeHidden();
  await expect(hours).toBeVisible();
  await expect(saved(page)).toBeVisible();
});

test("a node is peeked at, and steps are listed in words", async ({ page }) => {
  await ringPiece(page);
  await card(page, "stage").click(flap);
  await goToNode(page, "Box");
  await page.keyboard.press("p");
  await expect(page.getByRole("button", { name: "Back to the result" })).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(page.getByRole("button", { name: "Back to the result" })).toBeHidden();
  await card(page, "turn").click(flap);
  // Keys do what they do to what is chosen by then.
  await expect(page.locator('.react-flow__node.selected[data-id="turn"]')).toBeVisible();
  await page.keyboard.press("b");
  await page.keyboard.press("h");
  const steps = page.getByRole("dialog", { name: "What was done" });
  await expect(steps.getByRole("button", { name: /Passed .* by/ })).toBeVisible();
  await steps.getByRole("button", { name: "As it was opened" }).click();
  await page.keyboard.press("Escape");
  await expect(page.getByText("passed by")).toBeHidden();
});
