/** A path drawn on the stage, made a tube, changed and undone; a drawing with holes dropped. */
import type { Page } from "@playwright/test";
import type { DrawnPath } from "../../src/core/maths/drawn-path";
import { addNode, choose, drop, goToNode, link, newPiece, saved, savedDocument } from "./helpers";
import { expect, test } from "./own-studio";

const pathOf = async (page: Page): Promise<DrawnPath> => {
  await expect(saved(page)).toBeVisible();
  const { graph } = await savedDocument(page);
  return graph.nodes.find(({ id }) => id === "drawn-path")?.set.path as unknown as DrawnPath;
};

test("a path is drawn on the stage, tubed, a point of it dragged and moved by keys, all of it undone", async ({
  page,
}) => {
  test.slow();
  await newPiece(page);
  await page.keyboard.press("/");
  await page.keyboard.type("drawn path");
  await choose(page, "Drawn path");
  await expect(page.getByRole("dialog", { name: "Add a node" })).toBeHidden();
  const tools = page.getByRole("toolbar", { name: "Path" });
  await expect(tools).toBeVisible();
  const layer = page.getByTestId("path-drawing");
  const stage = await page.getByRole("region", { name: "Stage" }).boundingBox();
  if (!stage) throw new Error("There is no stage.");
  const at = (x: number, y: number) => [stage.x + stage.width * x, stage.y + stage.height * y] as const;

  await tools.getByRole("button", { name: "Draw" }).click();
  await page.mouse.click(...at(0.25, 0.75));
  // Dragged while it is set, a point gets handles.
  await page.mouse.move(...at(0.75, 0.72));
  await page.mouse.down();
  await page.mouse.move(...at(0.8, 0.62), { steps: 3 });
  await page.mouse.up();
  await page.keyboard.press("Escape");
  await expect(tools.getByRole("button", { name: "Draw" })).toBeVisible();
  const drawn = await pathOf(page);
  expect(drawn.points.length).toBe(5);
  expect(drawn.points[3].after).toEqual([0, 0, 0]);
  expect(drawn.points[4].smooth).toBe(true);
  for (let a = 0; a < 3; a++) expect(drawn.points[4].before[a]).toBeCloseTo(-drawn.points[4].after[a], 5);

  const point = layer.getByRole("button", { name: "Point 4", exact: true });
  const box = await point.boundingBox();
  if (!box) throw new Error("Point 4 is not shown.");
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + 60, box.y - 30, { steps: 4 });
  await page.mouse.up();
  const dragged = await pathOf(page);
  expect(dragged.points[3].at).not.toEqual(drawn.points[3].at);
  await point.press("ArrowRight");
  await expect
    .poll(async () => (await pathOf(page)).points[3].at[0])
    .toBeCloseTo(dragged.points[3].at[0] + 0.1, 5);
  await point.press("Delete");
  await expect.poll(async () => (await pathOf(page)).points.length).toBe(4);
  await tools.getByRole("button", { name: "Close the path" }).click();
  await expect.poll(async () => (await pathOf(page)).closed).toBe(true);

  await addNode(page, [300, 500], "tube", "Tube");
  await link(page, "drawn-path.shape", "tube.shape");
  await goToNode(page, "Tube");
  await expect(page.locator("[data-node=tube]")).toHaveAttribute("data-state", /ran|reused/);
  // Back over everything that was done, to what the node began with.
  await expect(async () => {
    await page.keyboard.press("Control+z");
    expect((await pathOf(page))?.points.length ?? 3).toBe(3);
  }).toPass({ intervals: [50] });
});

const MARK = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 40">
  <path fill="#7fa650" fill-rule="evenodd" d="M0 0h40v40h-40z M10 10h8v20h-8z M22 12h8v20h-8z"/>
</svg>`;

test("a drawing with two holes is dropped, and filled with its holes open", async ({ page }) => {
  await newPiece(page);
  await page.keyboard.press("2");
  await drop(page, { "mark.svg": Buffer.from(MARK).toString("base64") }, [200, 300]);
  await expect(page.locator("[data-node=import]")).toHaveAttribute("data-state", /ran|reused|unused/);
  await addNode(page, [300, 500], "fill outline", "Fill outline");
  await link(page, "import.shape", "fill-outline.shape");
  await goToNode(page, "Fill outline");
  // A frame with two holes has 4 + 8 points, which are n + 2h − 2 triangles.
  await expect(page.locator("[data-node=fill-outline]")).toContainText("14 faces");
});

test("a mask is painted on a ball, erased in part and undone", async ({ page }) => {
  await newPiece(page);
  for (const [words, title] of [
    ["sphere", "Sphere"],
    ["painted mask", "Painted mask"],
  ])
    await addNode(page, [900, 400], words, title);
  await goToNode(page, "Painted mask");
  const tools = page.getByRole("toolbar", { name: "Mask" });
  const touches = async () => {
    await expect(saved(page)).toBeVisible();
    const { graph } = await savedDocument(page);
    const mask = graph.nodes.find(({ id }) => id === "painted-mask")?.set.mask as unknown as {
      dabs: { amount: number }[];
    };
    return mask?.dabs ?? [];
  };
  await tools.getByRole("button", { name: "Paint" }).click();
  const stage = await page.getByRole("region", { name: "Stage" }).boundingBox();
  if (!stage) throw new Error("There is no stage.");
  const stroke = async () => {
    await page.mouse.move(stage.x + stage.width * 0.5, stage.y + stage.height * 0.5);
    await page.mouse.down();
    await page.mouse.move(stage.x + stage.width * 0.6, stage.y + stage.height * 0.52, { steps: 6 });
    await page.mouse.up();
  };
  await stroke();
  const painted = await touches();
  expect(painted.length).toBeGreaterThan(0);
  expect(painted.every(({ amount }) => amount > 0)).toBe(true);
  await tools.getByRole("button", { name: "Erase" }).click();
  await stroke();
  await expect.poll(async () => (await touches()).some(({ amount }) => amount < 0)).toBe(true);
  await page.keyboard.press("Escape");
  await page.keyboard.press("Control+z");
  await expect.poll(async () => (await touches()).length).toBe(painted.length);
});
