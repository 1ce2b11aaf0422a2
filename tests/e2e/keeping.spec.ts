/** Work is not lost: two windows in conflict, a server that goes away, deletion, earlier versions. */

import { join } from "node:path";
import Database from "better-sqlite3";
import { goToNode, openPiece, ringPiece, saved, tally, typeNumber } from "./helpers";
import { dataAt, expect, type Page, test } from "./own-studio";

test("two windows in conflict: the later one is told, and keeps both", async ({ page, context }) => {
  await ringPiece(page);
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
  await ringPiece(page);
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
  await ringPiece(page);
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

test("an answer that is cut in the middle is no end: the piece is saved all the same", async ({ page }) => {
  await ringPiece(page);
  let cut = 0;
  await page.route("**/api/pieces/*", async (route) => {
    if (route.request().method() !== "PUT" || cut++ > 0) return route.continue();
    // It reached the server and was saved; what comes back breaks off.
    await route.fetch();
    await route.fulfill({ status: 200, contentType: "application/json", body: '{"revis' });
  });
  await page.getByLabel("Name of the piece").fill("Cut short");
  await page.keyboard.press("Enter");
  await expect.poll(() => cut).toBeGreaterThan(0);
  await expect(saved(page)).toBeVisible({ timeout: 15_000 });
  await page.reload();
  await expect(page.getByLabel("Name of the piece")).toHaveValue("Cut short");
});

test("a full disk is called one, and saving goes on when there is room", async ({ page }) => {
  await ringPiece(page);
  const full = JSON.stringify({
    faults: [{ what: "The disk is full, so nothing more can be stored." }],
    trouble: "full",
  });
  await page.route("**/api/pieces/*", (route) =>
    route.request().method() === "PUT"
      ? route.fulfill({ status: 507, contentType: "application/json", body: full })
      : route.continue(),
  );
  await page.getByLabel("Name of the piece").fill("No room");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("status").first()).toContainText("not saved yet; trying again");
  await expect(page.getByRole("alert").first()).toContainText("The disk is full");
  await page.unroute("**/api/pieces/*");
  await expect(saved(page)).toBeVisible({ timeout: 15_000 });
});

test("two tabs keep their unsaved edits apart; what a closed one leaves is offered", async ({
  page,
  context,
}) => {
  await ringPiece(page);
  await expect(saved(page)).toBeVisible();
  const url = page.url();
  const other = await context.newPage();
  await other.goto(url);
  await expect(tally(other)).toContainText("12 clones");
  // What a tab sends when it is closed gets nowhere either.
  await context.setOffline(true);
  const rename = async (tab: Page, name: string) => {
    await tab.getByLabel("Name of the piece").fill(name);
    await tab.keyboard.press("Enter");
    await expect(tab.getByRole("status").first()).toContainText("trying again");
  };
  await rename(other, "Of the other tab");
  await rename(page, "Of this tab");
  // A copy goes to the browser a moment after the change.
  await page.waitForTimeout(500);
  await other.close();
  await context.setOffline(false);
  await expect(saved(page)).toBeVisible({ timeout: 15_000 });
  await page.reload();
  // What this tab saved is the piece; what the other left, based on the state before, is taken up for a decision.
  await expect(page.getByLabel("Name of the piece")).toHaveValue("Of the other tab");
  await expect(page.getByRole("status").first()).toContainText("saved elsewhere meanwhile", {
    timeout: 15_000,
  });
  await page.getByRole("button", { name: "Keep both" }).click();
  await expect(page.getByLabel("Name of the piece")).toHaveValue("Of the other tab (second)");
});

test("kept edits that do not apply any more are said and kept, never ignored", async ({ page }) => {
  await ringPiece(page);
  await expect(saved(page)).toBeVisible();
  const id = page.url().split("/").at(-1) as string;
  await page.evaluate(
    (key) =>
      new Promise<void>((done, fail) => {
        const open = indexedDB.open("keyval-store");
        open.onerror = () => fail(open.error);
        open.onsuccess = () => {
          const store = open.result.transaction("keyval", "readwrite").objectStore("keyval");
          store.put({ base: 1, at: 1, document: { glemmo: 1, name: "damaged", graph: 5 } }, key);
          store.transaction.oncomplete = () => done();
        };
      }),
    `unsaved ${id} closed-tab`,
  );
  await page.reload();
  const alert = page.getByRole("alert").first();
  await expect(alert).toContainText("do not apply any more");
  await expect(alert).toContainText("They are kept");
  await page.reload();
  await expect(alert).toContainText("do not apply any more");
  const file = page.waitForEvent("download");
  await page.getByRole("button", { name: "Take them away as a file" }).click();
  expect((await file).suggestedFilename()).toContain("unsaved.json");
  // It goes when they are forgotten.
  await expect(page.getByText("do not apply any more")).toHaveCount(0);
  await page.reload();
  await expect(tally(page)).toContainText("12 clones");
  await expect(page.getByText("do not apply any more")).toHaveCount(0);
});

test("a damaged piece stands on the shelf as one, and comes back from its earlier version", async ({
  page,
  studio,
}) => {
  await ringPiece(page);
  const name = page.getByLabel("Name of the piece");
  await name.fill("Precious");
  await page.keyboard.press("Enter");
  await expect(saved(page)).toBeVisible();
  await name.fill("Precious, later");
  await page.keyboard.press("Enter");
  await expect(saved(page)).toBeVisible();
  const id = page.url().split("/").at(-1) as string;
  damage(studio, id);
  await page.goto("/");
  await expect(page.getByRole("link", { name: "Jar ring", exact: true })).toBeVisible();
  const packet = page.getByRole("link", { name: "Precious, later" });
  await expect(packet).toContainText("Damaged");
  await packet.click();
  await expect(page.getByRole("heading", { name: "This piece is damaged" })).toBeVisible();
  await page.getByRole("button", { name: "Bring that version back" }).click();
  await expect(name).toHaveValue("Precious (recovered)");
  await expect(tally(page)).toContainText("12 clones");
});

/** Overwrites what is stored of a piece, in the database of the server at an address. */
function damage(studio: string, piece: string): void {
  const db = new Database(join(dataAt(studio), "glemmo.db"));
  db.prepare("UPDATE pieces SET document = 'half of a docu' WHERE id = ?").run(piece);
  db.close();
}
