/** Building by needs in plain words: three words and three Enters are a ring of boxes; a sentence is a small graph. */
import {
  addNode,
  cardBoxes,
  choose,
  expectApart,
  newPiece,
  ringPiece,
  savedDocument,
  tally,
} from "./helpers";
import { expect, test } from "./own-studio";

test("a ring of boxes is three searches and three Enters, and none of its cards lies on another", async ({
  page,
}) => {
  await newPiece(page);
  for (const [words, title] of [
    ["ring", "Ring sites"],
    ["copy", "Clone onto sites"],
    ["box", "Box"],
  ] as const)
    await addNode(page, [800, 400], words, title);
  await expect(tally(page)).toContainText("12 clones");
  const boxes = await cardBoxes(page);
  expect(boxes).toHaveLength(4);
  expectApart(boxes);
});

test("a sentence finds a recipe, which works at once on what there is, with its dials", async ({ page }) => {
  await ringPiece(page);
  await expect(tally(page)).toContainText("12 clones");
  await page.mouse.move(800, 400);
  await page.keyboard.press("/");
  await page.getByPlaceholder("What should happen?").fill("please make all of it wobble a bit");
  await choose(page, /^Wobble with noise/);
  await expect(page.getByRole("region", { name: "Dials" })).toContainText("How far");
  await expect(tally(page)).toContainText("12 clones");
  await expect
    .poll(async () => (await savedDocument(page)).graph.links.some(({ to }) => to === "move.shape"))
    .toBe(true);
  await page.keyboard.press("Control+z");
  await expect(page.locator("[data-node=move]")).toHaveAttribute("data-state", "unused");
  await page.keyboard.press("Control+z");
  await expect(page.locator("[data-node=move]")).toHaveCount(0);
});

test("words that nobody knows lead to the families, and those unfold", async ({ page }) => {
  await newPiece(page);
  await page.mouse.move(800, 400);
  await page.keyboard.press("/");
  const dialog = page.getByRole("dialog", { name: "Add a node" });
  await page.getByPlaceholder("What should happen?").fill("qwxz jjjkq");
  await expect(dialog.getByRole("status")).toContainText("None of these words is known");
  await dialog.getByRole("option", { name: /^Make/ }).click();
  await expect(dialog.getByRole("option", { name: /^Torus/ })).toBeVisible();
});
