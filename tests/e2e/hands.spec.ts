/** What hands do without thinking: dragging, clicking and then pressing keys, tidying, reading what is cut. */
import {
  addNode,
  cardBoxes,
  expectApart,
  goToNode,
  newPiece,
  openPiece,
  ringPiece,
  saved,
  tally,
  viewAtRest,
} from "./helpers";
import { expect, type Page, test } from "./own-studio";

const chosenText = (page: Page) => page.evaluate(() => getSelection()?.toString() ?? "");

test("a drag from anywhere marks no text, and a link is drawn after it as ever", async ({ page }) => {
  await ringPiece(page);
  const drawer = page.locator("#detail");
  const box = await drawer.boundingBox();
  if (!box) throw new Error("There is no drawer.");
  // From the blank of the drawer, the header and the strip, each over the whole page to the graph.
  const graph = [box.x - 200, box.y + 300] as const;
  for (const [x, y] of [
    [box.x + box.width / 2, box.y + box.height - 12],
    [420, 20],
    [box.x + 30, 785],
  ]) {
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.mouse.move(...graph, { steps: 6 });
    await page.mouse.up();
    expect(await chosenText(page)).toBe("");
  }
  // On a loaded machine the graph is still being fitted into its area here.
  await viewAtRest(page);
  const port = await page.getByLabel("output shape of turn", { exact: true }).boundingBox();
  if (!port) throw new Error("The output is not on the screen.");
  const ground = await page.locator(".react-flow__pane").boundingBox();
  if (!ground) throw new Error("There is no ground.");
  await page.mouse.move(port.x + port.width / 2, port.y + port.height / 2);
  await page.mouse.down();
  // Out of reach of the ports, which would take the link, and of the edge: there the view moves on under the pointer, and
  // the browser may take a release for the pointer's leaving when it paints slowly.
  await page.mouse.move(ground.x + ground.width - 120, ground.y + 90, { steps: 8 });
  await expect(page.locator(".react-flow__connection")).toBeVisible();
  await page.mouse.up();
  await expect(page.getByRole("dialog", { name: "Add a node" })).toBeVisible();
  await page.keyboard.press("Escape");
  // What a text field has marked is let go of by a click on the ground.
  await page.getByLabel("Name of the piece").dblclick();
  await page.mouse.click(ground.x + 20, ground.y + 40);
  expect(await chosenText(page)).toBe("");
});

test("after a click on any button of the header Space plays", async ({ page }) => {
  await ringPiece(page);
  const playing = page.getByRole("button", { name: /^Pause/ });
  const paused = page.getByRole("button", { name: /^Play/ });
  await page.getByLabel("Name of the piece").fill("Changed");
  await page.keyboard.press("Enter");
  const dialog = page.getByRole("dialog");
  for (const [name, opens] of [
    [/^Undo/, false],
    [/^Redo/, false],
    [/^Night or day/, false],
    [/^Earlier versions/, true],
    [/^Find anything/, true],
    [/^Take away$/, true],
  ] as const) {
    await page.getByRole("banner").getByRole("button", { name }).click();
    if (opens) {
      await expect(dialog).toBeVisible();
      await page.keyboard.press("Escape");
      await expect(dialog).toBeHidden();
    }
    await page.keyboard.press("Space");
    await expect(playing.first()).toBeVisible();
    await expect(dialog).toBeHidden();
    await page.keyboard.press("Space");
    await expect(paused.first()).toBeVisible();
  }
  // Who goes by the keyboard presses what has the focus.
  const versions = page.getByRole("button", { name: /^Earlier versions/ });
  // A dialog that has just been closed gives the focus back a little later.
  await expect(async () => {
    await versions.focus();
    await page.keyboard.press("Tab");
    await page.keyboard.press("Shift+Tab");
    await expect(versions).toBeFocused({ timeout: 1000 });
  }).toPass();
  await page.keyboard.press("Space");
  await expect(dialog).toBeVisible();
});

test("Tidy sets loose cards side by side, with the Stage last, and all of them are seen", async ({
  page,
}) => {
  await newPiece(page);
  const pane = page.locator(".react-flow__pane");
  const ground = await pane.boundingBox();
  if (!ground) throw new Error("There is no ground.");
  const middle = [ground.x + ground.width / 2, ground.y + ground.height / 2] as const;
  for (const [words, title, linked] of [
    ["box", "Box", true],
    ["grid sites", "Grid sites", true],
    ["noise", "Noise", false],
    ["sphere", "Sphere", true],
  ] as const) {
    await addNode(page, middle, words, title);
    // One step back takes the link away and keeps the card.
    if (linked) await page.keyboard.press("Control+z");
  }
  await page.mouse.click(ground.x + 8, ground.y + 60);
  await page.keyboard.press("t");
  await expect(async () => {
    const boxes = await cardBoxes(page);
    expect(boxes.length).toBeGreaterThanOrEqual(5);
    for (const box of boxes) {
      expect(box.x).toBeGreaterThan(ground.x);
      expect(box.x + box.width).toBeLessThan(ground.x + ground.width);
      expect(box.y).toBeGreaterThan(ground.y);
      expect(box.y + box.height).toBeLessThan(ground.y + ground.height);
    }
    expectApart(boxes);
    const stage = await page.locator("[data-node=stage]").boundingBox();
    const [right, bottom] = [(stage?.x ?? 0) + (stage?.width ?? 0), (stage?.y ?? 0) + (stage?.height ?? 0)];
    for (const box of boxes) expect(right > box.x || bottom > box.y).toBe(true);
  }).toPass();
});

test("the whole graph is shown by a key, wherever it was left", async ({ page }) => {
  await openPiece(page, "Petri rings");
  await expect(tally(page)).toContainText("121 clones");
  await goToNode(page, "Grid sites");
  const pane = await page.locator(".react-flow__pane").boundingBox();
  // The view goes there a moment later; the key must come after that.
  await expect(async () => {
    const box = await page.locator("[data-node=lattice]").boundingBox();
    const middle = (pane?.x ?? 0) + (pane?.width ?? 0) / 2;
    expect(Math.abs((box?.x ?? 0) + (box?.width ?? 0) / 2 - middle)).toBeLessThan(20);
  }).toPass();
  await page.keyboard.press("g");
  await expect(async () => {
    for (const card of await page.locator(".react-flow__node-card").all()) {
      const box = await card.boundingBox();
      expect(box?.x).toBeGreaterThan(pane?.x ?? 0);
      expect((box?.x ?? 0) + (box?.width ?? 0)).toBeLessThan((pane?.x ?? 0) + (pane?.width ?? 0));
    }
  }).toPass();
});

test("a name that is cut is told whole by the pointer", async ({ page }) => {
  await openPiece(page, "Seed head, breathing");
  await goToNode(page, "Falloff warmth");
  const long = page.locator(".react-flow__node-card .truncate");
  await expect(page.locator("[data-node=warmth] .truncate").first()).toBeVisible();
  const cut = await long.evaluateAll((spans) =>
    spans.findIndex((span) => span.scrollWidth > span.clientWidth && span.getBoundingClientRect().width > 0),
  );
  expect(cut).toBeGreaterThanOrEqual(0);
  const name = long.nth(cut);
  await name.dispatchEvent("pointerover");
  const text = ((await name.textContent()) ?? "").trim();
  expect(await name.getAttribute("title")).toContain(text);
});

test("a piece that could not be saved any more is not made by pasting", async ({ page, context }) => {
  await context.grantPermissions(["clipboard-read", "clipboard-write"]);
  await ringPiece(page);
  await expect(saved(page)).toBeVisible();
  const nodes = (count: number) => ({
    glemmo: 1,
    name: "many",
    settings: { fps: 25, first: 0, last: 9, size: [100, 100], seed: 1, loop: true },
    graph: {
      nodes: Array.from({ length: count }, (_, i) => ({ id: `n${i}`, type: "box", at: [0, i], set: {} })),
      links: [],
    },
  });
  const cards = page.locator(".react-flow__node-card");
  const before = await cards.count();
  const paste = (value: unknown) =>
    page.evaluate((text) => {
      const data = new DataTransfer();
      data.setData("text/plain", text);
      window.dispatchEvent(new ClipboardEvent("paste", { clipboardData: data, bubbles: true }));
    }, JSON.stringify(value));
  await page.mouse.click(...(await groundOf(page)));
  await paste(nodes(4999));
  await expect(page.getByRole("alert").first()).toContainText("could not be saved any more");
  expect(await cards.count()).toBe(before);
  // An id of the most letters has no room for a number; its copy gets one all the same.
  const long = nodes(1);
  long.graph.nodes[0].type = `capsule:${"x".repeat(64)}`;
  await paste(long);
  await expect(cards).toHaveCount(before + 1);
  await paste(long);
  await expect(cards).toHaveCount(before + 2);
  await expect(saved(page)).toBeVisible();
});

async function groundOf(page: Page): Promise<[number, number]> {
  const box = await page.locator(".react-flow__pane").boundingBox();
  return [(box?.x ?? 0) + 10, (box?.y ?? 0) + 60];
}
