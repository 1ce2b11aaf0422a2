/** Words typed, clone by clone, and a font of one's own dropped on the studio. */
import { readFileSync } from "node:fs";
import { choose, drop, goToNode, newPiece, tally } from "./helpers";
import { expect, test } from "./own-studio";

test("a word is typed in two lines, letter by letter, undone, and set in a font that was dropped", async ({
  page,
}) => {
  await newPiece(page);
  await page.keyboard.press("2");
  await page.keyboard.press("/");
  await page.keyboard.type("text");
  await choose(page, "Text");
  await expect(page.getByRole("dialog", { name: "Add a node" })).toBeHidden();
  await expect(tally(page)).toContainText("9 clones");
  await goToNode(page, "Text");
  const detail = page.getByRole("region", { name: "Detail" });
  const words = detail.getByRole("textbox", { name: "text of text" });
  await words.fill("Seeds");
  await words.press("Shift+Enter");
  await words.pressSequentially("and moss");
  await words.press("Enter");
  await expect(tally(page)).toContainText("12 clones");
  // A card has one line for it, and keeps the ends of lines.
  const onCard = page.locator("[data-node=text]").getByRole("textbox", { name: "text of text" });
  await expect(onCard).toHaveValue("Seeds↵and moss");
  await page.keyboard.press("Control+z");
  await expect(tally(page)).toContainText("9 clones");

  const name = "instrument-sans-latin-400-normal.woff";
  const bytes = readFileSync(`node_modules/@fontsource/instrument-sans/files/${name}`);
  await drop(page, { [name]: bytes.toString("base64") }, [200, 300]);
  // A second text, in the font.
  await expect(page.locator("[data-node=text-2]")).toHaveAttribute("data-state", /ran|reused/);
  await expect(page.locator("[data-node=text-2]")).toContainText("9");
});
