/** Capsules with pointer and keyboard: the petal clock built from a blank piece, traced, and its values as the command line has them. */
import { execFileSync } from "node:child_process";
import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { addNode, newPiece, openPiece, saved, savedDocument, tally, unfold } from "./helpers";
import { expect, type Page, test } from "./own-studio";

const card = (page: Page, node: string) => page.locator(`[data-node="${node}"]`);
const flap = { position: { x: 60, y: 10 } } as const;

/** A row's menu is opened, and one of its entries chosen. */
async function fromMenu(page: Page, node: string, row: string, ...entries: string[]): Promise<void> {
  await card(page, node).getByText(row, { exact: true }).click({ button: "right" });
  for (const entry of entries) {
    const item = page.getByRole("menuitem", { name: entry, exact: true });
    await item.click();
  }
}

test("a petal clock is built from nothing: packed, its axis exposed, fed by itself, its pick driven, one petal traced", async ({
  page,
}) => {
  test.slow();
  await newPiece(page);
  await page.keyboard.press("2");
  await addNode(page, [60, 120], "ring sites", "Ring sites");
  await addNode(page, [60, 420], "cone", "Cone");
  await addNode(page, [340, 120], "clone", "Clone onto sites");
  await expect(tally(page)).toHaveText(/^12 clones/);

  // Packed by a key; undone and done again.
  await card(page, "ring-sites").click(flap);
  await card(page, "clone-onto-sites").click({ ...flap, modifiers: ["Shift"] });
  await page.keyboard.press("c");
  await expect(card(page, "new-capsule")).toBeVisible();
  await page.keyboard.press("Control+z");
  await expect(card(page, "ring-sites")).toBeVisible();
  await page.keyboard.press("Control+Shift+z");
  await expect(card(page, "new-capsule")).toBeVisible();
  await expect(tally(page)).toHaveText(/^12 clones/);

  // Inside, what is to be set becomes inputs: the count, the axis that points out, and which shape is picked.
  await card(page, "new-capsule").click(flap);
  await page.keyboard.press("Enter");
  await expect(page.getByRole("navigation", { name: "Open capsules" })).toContainText("New capsule");
  await unfold(page, "ring-sites");
  await fromMenu(page, "ring-sites", "count", "Make it an input of the capsule");
  await fromMenu(page, "ring-sites", "outward", "Make it an input of the capsule");
  // An open card lies over what is below it.
  await page.getByRole("button", { name: "fewer inputs of ring-sites" }).click();
  await unfold(page, "clone-onto-sites");
  await fromMenu(page, "clone-onto-sites", "pick", "Make it an input of the capsule");
  await page.getByRole("textbox", { name: "Title of the capsule" }).fill("Petal ring");
  await page.keyboard.press("Enter");
  const ports = page.getByRole("region", { name: "Capsule" });
  await ports.getByRole("textbox", { name: "Name of port outward" }).fill("count");
  await page.keyboard.press("Enter");
  await expect(ports.getByRole("alert")).toContainText("already a port called");
  await ports.getByRole("textbox", { name: "Name of port outward" }).fill("points out");
  await page.keyboard.press("Enter");
  await page.keyboard.press("Escape");
  await expect(page.getByRole("navigation", { name: "Open capsules" })).toBeHidden();

  // The axis is a choice of the instance now, and the capsule is fed by itself: a ring of rings.
  const detail = page.getByRole("region", { name: "Detail" });
  await card(page, "new-capsule").click(flap);
  await detail.getByRole("combobox", { name: "points out of new-capsule" }).click();
  await page.getByRole("option", { name: "z", exact: true }).click();
  await addNode(page, [620, 460], "petal ring", "Petal ring");
  await expect(tally(page)).toHaveText(/^144 clones/);
  await card(page, "new-capsule-2").click(flap);
  await detail.getByRole("combobox", { name: "pick of new-capsule-2" }).click();
  await page.getByRole("option", { name: "at random" }).click();
  await expect(tally(page)).toHaveText(/^144 clones/);

  // A capsule that would contain itself is refused in words. The list gives the focus back: Enter is for the card again.
  await card(page, "new-capsule-2").click(flap);
  await page.keyboard.press("Enter");
  await addNode(page, [700, 600], "petal ring", "Petal ring");
  await expect(page.getByRole("alert").filter({ hasText: "would contain itself" })).toBeVisible();
  await page.keyboard.press("Escape");

  // Back at the whole: one clone is traced by its row, and has the numbers that the command line prints.
  await page.keyboard.press("2");
  await page.keyboard.press("v");
  await page.getByRole("grid", { name: "Values" }).getByRole("row").nth(6).click();
  await page.getByRole("button", { name: "Trace", exact: true }).click();
  const trace = page.getByRole("region", { name: "Inspect" });
  await expect(trace).toContainText("Element 5 of 12");
  await expect(saved(page)).toBeVisible();
  const document = await savedDocument(page);
  const file = join(mkdtempSync(join(tmpdir(), "glemmo-")), "clock.glemmo.json");
  writeFileSync(file, JSON.stringify(document));
  const printed = execFileSync(
    "npx",
    ["tsx", "src/cli/main.ts", "values", file, "--node", "new-capsule-2/ring-sites", "--format", "json"],
    { encoding: "utf8" },
  );
  const [x] = (JSON.parse(printed) as { columns: { position: number[][] } }).columns.position[5];
  await expect(trace).toContainText(String(Number(x.toPrecision(6))));
});

test("a capsule of the library is put in, edited, saved as a new version, and the update is taken up elsewhere", async ({
  page,
}) => {
  await openPiece(page, "Petal clock");
  await page.keyboard.press("k");
  const library = page.getByRole("dialog", { name: "Library of capsules" });
  await expect(library.getByRole("listitem")).toHaveCount(11);
  await library.getByRole("button", { name: "Put Every n-th into the graph" }).click();
  await expect(card(page, "every-nth")).toBeVisible();
  await page.keyboard.press("Enter");
  await page.getByRole("textbox", { name: "About the capsule" }).fill("Keeps every n-th clone.");
  await page.keyboard.press("Enter");
  await page.keyboard.press("Escape");
  await card(page, "every-nth").click(flap);
  await page.getByRole("button", { name: "Save as a new version" }).click();
  await expect(page.getByText("It is in the library now.")).toBeVisible();

  await openPiece(page, "Ring of rings");
  await page.keyboard.press("k");
  await expect(library).toContainText("Keeps every n-th clone.");
  await expect(library.getByText("version 2")).toHaveCount(1);
});
