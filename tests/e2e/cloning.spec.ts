/** Pieces about cloning built from nothing, with the keyboard and the pointer. */

import { addNode, choose, newPiece, saved, savedDocument, tally, typeNumber } from "./helpers";
import { expect, type Page, test } from "./own-studio";

/** A user's actions: something added, linked or set. */
let actions = 0;

async function add(page: Page, words: string, title: string): Promise<void> {
  actions++;
  await addNode(page, [500, 300], words, title);
}

/** Links of the chosen node, by what is typed. */
async function link(page: Page, from: string, to: string): Promise<void> {
  actions++;
  await page.keyboard.press("l");
  await page.keyboard.type(`${from} to ${to}`);
  await choose(page, new RegExp(`link ${from} to ${to}`, "i"));
}

async function setNumber(page: Page, label: string, text: string): Promise<void> {
  actions++;
  await typeNumber(page, label, text);
}

async function pick(page: Page, label: string, option: string): Promise<void> {
  actions++;
  await page
    .getByRole("region", { name: "Detail" })
    .getByRole("combobox", { name: label, exact: true })
    .click();
  await page.getByRole("option", { name: option, exact: true }).click();
  await expect(page.getByRole("option", { name: option, exact: true })).toBeHidden();
}

test("sizes at random on a box, trimmed and coloured: the herb plots, from blank in 15 actions", async ({
  page,
}) => {
  test.slow();
  actions = 0;
  await newPiece(page);
  await page.keyboard.press("2");
  await add(page, "box", "Box");
  await add(page, "scatter", "Scatter sites");
  await pick(page, "spread of scatter-sites", "evenly");
  await setNumber(page, "count of scatter-sites", "1500");
  await add(page, "box", "Box");
  await add(page, "stamp", "Clone onto sites");
  await add(page, "random", "Random");
  await setNumber(page, "low of random", "0.01");
  await setNumber(page, "high of random", "0.06");
  await add(page, "size", "Scale");
  await add(page, "trim", "Trim overlaps");
  await setNumber(page, "radius of trim-overlaps", "0.03");
  await add(page, "gradient", "Gradient");
  const chance = "random";
  await link(page, `${chance}.value`, "gradient.value");
  await add(page, "tint", "Tint");
  expect(actions).toBe(15);
  await page.keyboard.press("2");
  const shown = async () =>
    Number(((await tally(page).textContent()) ?? "").split("clones")[0].replace(/\D/g, ""));
  await expect.poll(shown, { timeout: 30_000 }).toBeGreaterThan(200);
  expect(await shown()).toBeLessThan(1500);
});

test("thirteen around: the angle between two is read in the table of values", async ({ page }) => {
  await newPiece(page);
  await page.keyboard.press("2");
  await addNode(page, [500, 300], "ring", "Ring sites");
  await typeNumber(page, "count of ring-sites", "13");
  await page.keyboard.press("2");
  await page.keyboard.press("v");
  const table = page.getByRole("grid", { name: "Values" });
  await expect(table.getByRole("columnheader", { name: /angle/ })).toBeVisible();
  // 360° ÷ 13 (common practice, no source).
  await expect(table.getByRole("row").nth(2)).toContainText("27.692");
  await expect(saved(page)).toBeVisible();
  expect((await savedDocument(page)).graph.nodes.find(({ id }) => id === "ring-sites")?.set.count).toBe(13);
  await expect(tally(page)).toContainText("13");
});
