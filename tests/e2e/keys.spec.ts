/** Keys: made from a card's menu, set at another frame, eased and moved on their rows, undone. */

import { addNode, newPiece, saved, savedDocument, typeNumber } from "./helpers";
import { expect, test } from "./own-studio";

test("a value is driven by keys, set at another frame, moved and eased on its row, and undone", async ({
  page,
}) => {
  await newPiece(page);
  const ring = "ring-sites";
  const label = `radius of ${ring}`;
  const keysOf = async () =>
    (await savedDocument(page)).graph.nodes.find(({ id }) => id === ring)?.keys?.radius.keys ?? [];
  await page.keyboard.press("2");
  await addNode(page, [300, 160], "ring sites", "Ring sites");
  await page
    .locator(`[data-node=${ring}] [data-input=radius]`)
    .click({ button: "right", position: { x: 40, y: 10 } });
  await page.getByRole("menuitem", { name: "Drive this with" }).press("ArrowRight");
  await page.getByRole("menuitem", { name: "Keys, the first one here" }).click();
  const strip = page.getByRole("region", { name: "Strip" });
  await expect(strip.getByRole("button", { name: /key at 0/ })).toBeVisible();

  await page.getByRole("slider", { name: "Frame" }).focus();
  for (let i = 0; i < 4; i++) await page.keyboard.press("PageUp");
  await typeNumber(page, label, "5");
  await expect(strip.getByRole("button", { name: /key at 40: 5/ })).toBeVisible();
  // Half-way the card shows what the keys say.
  await page.getByRole("slider", { name: "Frame" }).focus();
  for (let i = 0; i < 2; i++) await page.keyboard.press("PageDown");
  await expect.poll(async () => (await keysOf()).length).toBe(2);
  const first = (await keysOf())[0].value as number;
  await expect(page.getByRole("spinbutton", { name: label, exact: true }).last()).toHaveAttribute(
    "aria-valuenow",
    String((first + 5) / 2),
  );

  await strip.getByRole("button", { name: /key at 0/ }).focus();
  await page.getByRole("combobox", { name: "How the chosen keys lead on" }).click();
  await page.getByRole("option", { name: "ease-in-out", exact: true }).click();
  await strip.getByRole("button", { name: /key at 40/ }).focus();
  await page.keyboard.press("Shift+ArrowRight");
  await expect(saved(page)).toBeVisible();
  await expect.poll(keysOf).toEqual([
    { frame: 0, value: first, ease: "ease-in-out" },
    { frame: 50, value: 5 },
  ]);
  for (let i = 0; i < 4; i++) await page.getByRole("button", { name: /^Undo/ }).click();
  await expect(strip.getByRole("button", { name: /key at/ })).toHaveCount(0);
});
