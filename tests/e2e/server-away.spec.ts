/** The server is killed and started again while a piece is being edited. */
import { type ChildProcess, spawn } from "node:child_process";
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, test } from "@playwright/test";
import { saved, tally } from "./helpers";

const PORT = 4394;
const BASE = `http://127.0.0.1:${PORT}`;
let server: ChildProcess;

async function start(data: string): Promise<void> {
  server = spawn("npx", ["next", "start", "--hostname", "127.0.0.1", "--port", String(PORT)], {
    env: { ...process.env, GLEMMO_DATA: data },
    stdio: "ignore",
    detached: true,
  });
  await expect
    .poll(
      () =>
        fetch(`${BASE}/api/pieces`).then(
          (r) => r.status,
          () => 0,
        ),
      { timeout: 30_000 },
    )
    .toBe(200);
}
/** The whole group, with no chance to tidy up. */
const kill = () => process.kill(-(server.pid as number), "SIGKILL");

test("edits go on while the server is dead and are saved when it is back", async ({ page }) => {
  const data = mkdtempSync(join(tmpdir(), "glemmo-away-"));
  await start(data);
  try {
    await page.goto(BASE);
    await page.getByRole("button", { name: /Ring of something/ }).click();
    await expect(tally(page)).toContainText("12 clones");
    const name = page.getByLabel("Name of the piece");
    await name.fill("Before");
    await page.keyboard.press("Enter");
    await expect(saved(page)).toBeVisible();
    kill();
    await name.fill("While it was dead");
    await page.keyboard.press("Enter");
    await expect(page.getByRole("status").first()).toContainText("the server is away");
    await start(data);
    await expect(saved(page)).toBeVisible({ timeout: 15_000 });
    await page.reload();
    await expect(name).toHaveValue("While it was dead");
  } finally {
    kill();
  }
});
