/** How a piece is seen: its camera, its light, what it is made of. */
import { goToNode, openPiece, tally } from "./helpers";
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
  await page.keyboard.press("q");
  await expect(button).toHaveText("camera");
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
  const picture = async () => (await canvas.screenshot()).toString("base64");
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
  const picture = async () => (await canvas.screenshot()).toString("base64");
  const before = await picture();
  await canvas.click({ position: { x: 8, y: 120 } });
  await page.keyboard.press("/");
  await page.keyboard.type("Finish");
  await page.keyboard.press("Enter");
  await expect(page.locator("[data-node=finish]")).toHaveAttribute("data-state", /ran|reused/);
  await expect.poll(picture, { timeout: 20_000 }).not.toBe(before);
  await expect(page.getByText(/needs WebGL|cannot be/)).toHaveCount(0);
});
