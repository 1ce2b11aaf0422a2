/** Files dropped on the studio, pieces as one file, and a piece made without a pointer. */

import { addNode, choose, drop, goToNode, newPiece, saved, tally } from "./helpers";
import { expect, test } from "./own-studio";

const LEAF = Buffer.from("v 0 0 0\nv 1 0 0\nv 0 1 0\nv 0 0 1\nf 1 3 2\nf 1 2 4\nf 2 3 4\nf 1 4 3\n").toString(
  "base64",
);
/** One yellow pixel. */
const PIXEL =
  "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mP8z8BQDwAEhQGAhKmMIQAAAABJRU5ErkJggg==";

test("dropped files become nodes that read them; the piece goes out and comes back as one file", async ({
  page,
}) => {
  await newPiece(page);
  await page.keyboard.press("2");
  await drop(page, { "leaf.obj": LEAF }, [200, 200]);
  await expect(page.locator("[data-node=import]")).toContainText("4 faces");
  await drop(page, { "dot.png": PIXEL, "broken.png": LEAF }, [520, 200]);
  await expect(page.locator("[data-node=picture-sample]")).toHaveAttribute("data-state", /ran|reused|unused/);
  await expect(page.getByRole("alert").filter({ hasText: "broken.png" })).toContainText(
    "does not begin as a PNG",
  );
  await expect(saved(page)).toBeVisible();
  const id = page.url().split("/").pop();
  const zip = await (await page.request.get(`/api/pieces/${id}/bundle`)).body();
  await page.goto("/");
  await page
    .getByLabel("Piece file")
    .setInputFiles({ name: "leaf.zip", mimeType: "application/zip", buffer: zip });
  await expect(page.locator("[data-node=import]")).toContainText("4 faces");
  expect(page.url()).not.toContain(id);
});

test("tags narrow the shelf", async ({ page }) => {
  await page.goto("/");
  const pieces = page.getByRole("list").getByRole("link");
  await page.getByRole("button", { name: "scan", exact: true }).click();
  await expect(pieces).toHaveCount(1);
  await page.getByRole("button", { name: "More for Gourd scan revealed" }).click();
  await page.getByRole("menuitem", { name: "Tags" }).click();
  await page.getByRole("textbox", { name: "Tags" }).fill("harvest, scan");
  await page.getByRole("button", { name: "Keep" }).click();
  await page.getByRole("button", { name: "harvest", exact: true }).click();
  await expect(pieces).toHaveCount(1);
});

test("a ring of clones is made, changed and undone without a pointer", async ({ page }) => {
  await newPiece(page);
  await page.keyboard.press("2");
  for (const [words, title] of [
    ["ring", "Ring sites"],
    ["cube", "Box"],
    ["stamp", "Clone onto sites"],
  ]) {
    await page.keyboard.press("/");
    await page.keyboard.type(words);
    await choose(page, title);
    await expect(page.getByRole("dialog", { name: "Add a node" })).toBeHidden();
  }
  // The last one links the two before it, whatever their order; undone, that is done by hand.
  await expect(tally(page)).toContainText("12 clones");
  await page.keyboard.press("Control+z");
  for (const wanted of [
    "link box.shape to clone-onto-sites.shapes",
    "link ring-sites.sites to clone-onto-sites.sites",
  ]) {
    await page.keyboard.press("l");
    await page.keyboard.type(wanted.slice(5));
    await choose(page, new RegExp(wanted, "i"));
  }
  await page.keyboard.press("l");
  await page.keyboard.type("clone-onto-sites.clones to stage.shape");
  await choose(page, /link clone-onto-sites.clones to stage.shape/i);
  await expect(tally(page)).toContainText("12 clones");
  await goToNode(page, "Ring sites");
  const count = page
    .getByRole("region", { name: "Detail" })
    .getByRole("spinbutton", { name: "count of ring-sites" });
  await count.focus();
  await page.keyboard.press("ArrowUp");
  await expect(tally(page)).toContainText("13 clones");
  await page.keyboard.press("Control+z");
  await expect(tally(page)).toContainText("12 clones");
});

test("a profile is drawn and reshapes a falloff", async ({ page }) => {
  await newPiece(page);
  await page.keyboard.press("2");
  await addNode(page, [160, 160], "profile", "Profile");
  await page.getByRole("button", { name: "Add a point" }).click();
  const point = page.getByRole("button", { name: /^Point 3 at 0.5/ });
  await point.focus();
  for (let i = 0; i < 5; i++) await page.keyboard.press("ArrowUp");
  await expect(page.getByRole("button", { name: "Point 3 at 0.5, 0.55" })).toBeVisible();
  await page.keyboard.press("Control+z");
  await expect(page.getByRole("button", { name: "Point 3 at 0.5, 0.54" })).toBeVisible();
});
