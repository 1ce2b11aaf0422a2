/** The server is killed and started again while a piece is being edited. */
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { saved, tally } from "./helpers";
import { expect, test } from "./own-studio";
import { startServer } from "./server";

const PORT = 4394;

test("edits go on while the server is dead and are saved when it is back", async ({ page }) => {
  const data = mkdtempSync(join(tmpdir(), "glemmo-away-"));
  let server = await startServer(PORT, data);
  try {
    await page.goto(server.url);
    await page.getByRole("button", { name: /Ring of something/ }).click();
    await expect(tally(page)).toContainText("18 clones");
    const name = page.getByLabel("Name of the piece");
    await name.fill("Before");
    await page.keyboard.press("Enter");
    await expect(saved(page)).toBeVisible();
    server.kill();
    await name.fill("While it was dead");
    await page.keyboard.press("Enter");
    await expect(page.getByRole("status").first()).toContainText("the server is away");
    server = await startServer(PORT, data);
    await expect(saved(page)).toBeVisible({ timeout: 15_000 });
    await page.reload();
    await expect(name).toHaveValue("While it was dead");
  } finally {
    server.kill();
  }
});
