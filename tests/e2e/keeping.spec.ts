/** Work is not lost: two windows in conflict, a server that goes away, deletion, earlier versions. */

import { goToNode, newPiece, openPiece, saved, tally, typeNumber } from "./helpers";
import { expect, test } from "./own-studio";

test("two windows in conflict: the later one is told, and keeps both", async ({ page, context }) => {
  await newPiece(page, /Ring of something/);
  const other = await context.newPage();
  await other.goto(page.url());
  await expect(tally(other)).toContainText("12 clones");
  await page.getByLabel("Name of the piece").fill("Mine");
  await page.keyboard.press("Enter");
  await expect(saved(page)).toBeVisible();
  await other.getByLabel("Name of the piece").fill("Theirs");
  await other.keyboard.press("Enter");
  await expect(other.getByRole("status").first()).toContainText("saved elsewhere meanwhile");
  await other.getByRole("button", { name: "Keep both" }).click();
  await expect(other.getByLabel("Name of the piece")).toHaveValue("Theirs (second)");
  await page.reload();
  await expect(page.getByLabel("Name of the piece")).toHaveValue("Mine");
});

test("edits made while the server is away are saved when it is back, even after closing the page", async ({
  page,
}) => {
  await newPiece(page, /Ring of something/);
  await page.route("**/api/pieces/*", (route) =>
    route.request().method() === "PUT" ? route.abort() : route.continue(),
  );
  await page.getByLabel("Name of the piece").fill("Made while away");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("status").first()).toContainText("the server is away");
  await page.reload();
  await expect(page.getByLabel("Name of the piece")).toHaveValue("Made while away");
  await page.unroute("**/api/pieces/*");
  await expect(saved(page)).toBeVisible();
  await page.reload();
  await expect(page.getByLabel("Name of the piece")).toHaveValue("Made while away");
  await expect(saved(page)).toBeVisible();
});

test("a deleted piece is brought back, a duplicate is its own piece", async ({ page }) => {
  await page.goto("/");
  await page.getByRole("button", { name: "More for Jar ring" }).click();
  await page.getByRole("menuitem", { name: "Delete" }).click();
  await expect(page.getByRole("link", { name: "Jar ring", exact: true })).toHaveCount(0);
  await page.getByRole("button", { name: "Bring it back" }).click();
  await expect(page.getByRole("link", { name: "Jar ring", exact: true })).toBeVisible();
  await page.getByRole("button", { name: "More for Jar ring" }).click();
  await page.getByRole("menuitem", { name: "Duplicate" }).click();
  await expect(page.getByLabel("Name of the piece")).toHaveValue("Jar ring (copy)");
});

test("an earlier version is opened, and that can be undone", async ({ page }) => {
  await openPiece(page, "Petri rings");
  await expect(tally(page)).toContainText("121 clones");
  await goToNode(page, "Grid sites");
  await typeNumber(page, "across of lattice", "4");
  await expect(tally(page)).toContainText("55 clones");
  await expect(saved(page)).toBeVisible();
  await page.getByRole("button", { name: "Earlier versions" }).click();
  await page.getByRole("dialog").getByRole("button", { name: "Open" }).last().click();
  await expect(tally(page)).toContainText("121 clones");
  await page.keyboard.press("Control+z");
  await expect(tally(page)).toContainText("55 clones");
});

test("undo survives a reload", async ({ page }) => {
  await newPiece(page, /Ring of something/);
  await page.getByLabel("Name of the piece").fill("Renamed once");
  await page.keyboard.press("Enter");
  await expect(saved(page)).toBeVisible();
  // The history is stored in the browser a moment after the change.
  await page.waitForTimeout(800);
  await page.reload();
  await expect(page.getByLabel("Name of the piece")).toHaveValue("Renamed once");
  await page.getByRole("button", { name: /^Undo/ }).click();
  await expect(page.getByLabel("Name of the piece")).toHaveValue("Ring of something");
});
