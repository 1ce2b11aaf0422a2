/** How a piece is seen: its camera, its light, what it is made of. */
import type { PieceDocument } from "@/core/document/schema";
import type { Setting } from "@/core/nodes/ports";
import { goToNode, open, openPiece, piece, restingPicture, stagePicture, tally } from "./helpers";
import { expect, test } from "./own-studio";

test("one key makes a camera of where one looks; it is looked through, left, moved and undone", async ({
  page,
}) => {
  await openPiece(page, "Burr burst");
  await page.getByLabel("The result").click();
  const button = page.getByTitle("Look through the camera, or freely (Q)");
  await expect(button).toHaveCount(0);
  await page.keyboard.press("Shift+V");
  await expect(button).toHaveText("camera");
  await expect(tally(page)).toContainText("420 clones");
  await page.keyboard.press("q");
  await expect(button).toHaveText("free view");
  await expect(page.getByRole("spinbutton", { name: "View angle of the camera" })).toBeVisible();
  // What the camera sees stands in a corner meanwhile: put away, brought back, and gone to.
  const corner = page.getByRole("button", { name: "What the camera sees: look through it" });
  await page.getByRole("button", { name: "Put away what the camera sees" }).click();
  await expect(corner).toBeHidden();
  await page.getByRole("button", { name: "Show what the camera sees" }).click();
  await corner.click({ position: { x: 20, y: 20 } });
  await expect(button).toHaveText("camera");
  await expect(corner).toBeHidden();
  // Its lens is a number like any other.
  await goToNode(page, "Camera");
  const lens = page.getByRole("region", { name: "Detail" }).getByRole("spinbutton", { name: /^lens/ });
  await lens.click();
  await page.keyboard.type("85");
  await page.keyboard.press("Enter");
  await expect(lens).toHaveText("85");
  await page.keyboard.press("Control+z");
  await page.keyboard.press("Control+z");
  await expect(button).toHaveCount(0);
});

test("a set-up of lights is chosen on the Stage, and a material changes what is drawn", async ({ page }) => {
  await openPiece(page, "Jar ring");
  const canvas = page.getByLabel("The result");
  const picture = () => stagePicture(page);
  await expect(page.locator("[data-node=stage]")).toHaveAttribute("data-state", /ran|reused/);
  await page.keyboard.press("g");
  await page.locator("[data-node=stage]").click();
  const before = await picture();
  const detail = page.getByRole("region", { name: "Detail" });
  await detail.getByRole("combobox", { name: /^setup/ }).click();
  await page.getByRole("option", { name: "dark with rims" }).click();
  await expect.poll(picture).not.toBe(before);
  const dark = await picture();
  // A material goes between the clones and the Stage by itself.
  await page.keyboard.press("Escape");
  await canvas.click({ position: { x: 8, y: 120 } });
  await page.keyboard.press("/");
  await page.keyboard.type("Material");
  await page.keyboard.press("Enter");
  await expect.poll(picture, { timeout: 20_000 }).not.toBe(dark);
  await expect(page.getByText("glazed clay")).not.toHaveCount(0);
});

test("a finish is added to the Stage, changes the picture, and is undone", async ({ page }) => {
  await openPiece(page, "Jar ring");
  const canvas = page.getByLabel("The result");
  await expect(page.locator("[data-node=stage]")).toHaveAttribute("data-state", /ran|reused/);
  const picture = () => stagePicture(page);
  const before = await picture();
  await canvas.click({ position: { x: 8, y: 120 } });
  await page.keyboard.press("/");
  await page.keyboard.type("Finish");
  await page.keyboard.press("Enter");
  await expect(page.locator("[data-node=finish]")).toHaveAttribute("data-state", /ran|reused/);
  await expect.poll(picture, { timeout: 20_000 }).not.toBe(before);
  await expect(page.getByText(/needs WebGL|cannot be/)).toHaveCount(0);
});

/** A ring under a finish. */
const finished = (set: Record<string, Setting>, stage: Record<string, Setting> = {}): PieceDocument =>
  piece(
    "Finished ring",
    [
      ["ring", "ring-sites", 0, 0],
      ["box", "box", 0, 260, { size: [0.7, 0.5, 0.5] }],
      ["clones", "clone-onto-sites", 300, 40],
      ["look", "finish", 300, 300, set],
      ["stage", "stage", 600, 0, stage],
    ],
    [
      "ring.sites>clones.sites",
      "box.shape>clones.shapes",
      "clones.clones>stage.shape",
      "look.finish>stage.finish",
    ],
  );

test("looks are gathered while the stage rests; it can be stopped, goes on, and begins anew after a change", async ({
  page,
}) => {
  test.slow();
  await open(page, finished({ samples: 60 }));
  const status = page.getByText(/^finer \d+ \/ 60$/);
  await expect(status).toBeVisible({ timeout: 60_000 });
  const stop = page.getByRole("button", { name: "Stop making the picture finer" });
  const goOn = page.getByRole("button", { name: "Go on making the picture finer" });
  // Where looks are slow it waits to be asked.
  await expect(async () => {
    if (await goOn.isVisible()) await goOn.click({ timeout: 2_000 });
    await stop.click({ timeout: 2_000 });
  }).toPass();
  await expect(goOn).toBeVisible();
  const stopped = await status.textContent();
  await page.waitForTimeout(700);
  expect(await status.textContent()).toBe(stopped);
  await goOn.click();
  await expect(status).not.toHaveText(stopped ?? "");
  // Another camera is another picture.
  await page.keyboard.press("f");
  const count = async () => Number((await status.textContent())?.match(/\d+/)?.[0]);
  const before = Number(stopped?.match(/\d+/)?.[0]);
  await expect.poll(count, { timeout: 60_000 }).toBeLessThanOrEqual(before + 2);
});

test("a graphics card that is lost comes back with everything", async ({ page }) => {
  await open(page, finished({ samples: 1, vignette: 0.4 }, { floor: "wet" }));
  const canvas = page.getByLabel("The result");
  const before = await restingPicture(page);
  const card = await canvas.evaluateHandle((element) =>
    (element as HTMLCanvasElement).getContext("webgl2")?.getExtension("WEBGL_lose_context"),
  );
  await card.evaluate((lost) => lost?.loseContext());
  await page.waitForTimeout(300);
  await card.evaluate((lost) => lost?.restoreContext());
  await expect.poll(() => stagePicture(page), { timeout: 30_000 }).toBe(before);
});

test("floors, fog and a look-up change the picture, and a damaged look-up is refused in words", async ({
  page,
}) => {
  test.slow();
  const seen = new Set<string>();
  const sent = await page.request.post("/api/assets?file=red.cube", {
    data: Buffer.from(`LUT_3D_SIZE 2\n${Array.from({ length: 8 }, (_, i) => `${i & 1} 0 0`).join("\n")}\n`),
  });
  const red = { ...((await sent.json()) as { hash: string; bytes: number }), file: "red.cube" };
  for (const [look, stage] of [
    [{ samples: 1 }, {}],
    [{ samples: 1 }, { floor: "mirror" }],
    [{ samples: 1 }, { floor: "curved sheet", background: "#9fb3a5" }],
    [{ samples: 1, fog: 0.1, fogTop: 1, fogColor: "#8fa09a" }, {}],
    [{ samples: 1, lookUp: "red" }, {}],
  ] as const) {
    await open(page, { ...finished(look, stage), assets: { red } });
    await page.waitForTimeout(800);
    seen.add(await stagePicture(page));
  }
  expect(seen.size).toBe(5);
  const refused = await page.request.post("/api/assets?file=short.cube", {
    data: Buffer.from("LUT_3D_SIZE 2\n0 0 0\n"),
  });
  expect(refused.ok()).toBe(false);
  expect(await refused.text()).toContain("it has 1 colours, and a table of 2 has 8");
});
