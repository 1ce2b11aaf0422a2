/** Working in the graph: copying between pieces, dropping a card on a link, tidying. */

import {
  addNode,
  cardBoxes,
  expectApart,
  newPiece,
  openPiece,
  saved,
  savedDocument,
  viewAtRest,
} from "./helpers";
import { expect, type Page, test } from "./own-studio";

const cards = (page: Page) => page.locator(".react-flow__node-card");
const head = (page: Page, node: string) => page.locator(`[data-node=${node}]`);

const grab = async (page: Page, node: string): Promise<[number, number]> => {
  const box = await head(page, node).boundingBox();
  if (!box) throw new Error(`"${node}" is not on the screen.`);
  return [box.x + 40, box.y + 10];
};

test("nodes are copied as text into another piece, and undone; other text is refused in words", async ({
  page,
  context,
}) => {
  await context.grantPermissions(["clipboard-read", "clipboard-write"]);
  await openPiece(page, "Petri rings");
  await head(page, "stage").click({ position: { x: 40, y: 10 } });
  const count = (await savedDocument(page)).graph.nodes.length;
  await expect(cards(page)).toHaveCount(count);
  await page.keyboard.press("Control+a");
  await page.keyboard.press("Control+c");
  expect(await page.evaluate(() => navigator.clipboard.readText())).toContain('"glemmo": 2');
  await openPiece(page, "Jar ring");
  const before = (await savedDocument(page)).graph.nodes.length;
  await expect(cards(page)).toHaveCount(before);
  await head(page, "stage").click({ position: { x: 40, y: 10 } });
  await page.keyboard.press("Control+v");
  await expect(cards(page)).toHaveCount(before + count);
  await expect(saved(page)).toBeVisible();
  await page.keyboard.press("Control+z");
  await expect(cards(page)).toHaveCount(before);
  await page.evaluate(() => navigator.clipboard.writeText("a shopping list"));
  await page.keyboard.press("Control+v");
  await expect(page.getByText(/What was pasted holds no nodes/)).toBeVisible();
  await expect(cards(page)).toHaveCount(before);
});

test("a card dropped on a link takes its place in it; tidying moves the cards, each in one step of undo", async ({
  page,
}) => {
  await newPiece(page);
  await page.keyboard.press("2");
  await addNode(page, [120, 140], "box", "Box");
  await addNode(page, [300, 560], "move", "Move");
  await expect(head(page, "move")).toBeVisible();
  // It linked itself; one step back keeps it as a card of its own. Then onto the link into the stage.
  await page.keyboard.press("Control+z");
  await expect(page.locator('.react-flow__edge[data-id="box.shape>stage.shape"]')).toHaveCount(1);
  await viewAtRest(page);
  const edge = page.locator('.react-flow__edge[data-id$=">stage.shape"] .react-flow__edge-interaction');
  const over = await edge.evaluate((path: SVGPathElement) => {
    const at = path.getPointAtLength(path.getTotalLength() / 2);
    const screen = at.matrixTransform(path.getScreenCTM() as DOMMatrix);
    return [screen.x, screen.y];
  });
  const card = await head(page, "move").boundingBox();
  if (!card) throw new Error("The card is not on the screen.");
  const [x, y] = await grab(page, "move");
  await page.mouse.move(x, y);
  await page.mouse.down();
  // What begins a drag is not part of it.
  await page.mouse.move(x + 3, y + 3);
  const to = [over[0] - card.width / 2 + (x - card.x), over[1] - card.height / 2 + (y - card.y)];
  for (let i = 1; i <= 8; i++) await page.mouse.move(x + ((to[0] - x) * i) / 8, y + ((to[1] - y) * i) / 8);
  await page.mouse.up();
  await expect(page.locator('.react-flow__edge[data-id="move.shape>stage.shape"]')).toHaveCount(1);
  await expect(page.locator('.react-flow__edge[data-id$=">move.shape"]')).toHaveCount(1);
  // The others make room for it.
  await expect(async () => expectApart(await cardBoxes(page))).toPass();
  await page.keyboard.press("Control+z");
  await expect(page.locator('.react-flow__edge[data-id="move.shape>stage.shape"]')).toHaveCount(0);
  const place = () =>
    head(page, "stage").evaluate((card) => card.closest(".react-flow__node")?.getAttribute("style"));
  const was = await place();
  await page.keyboard.press("t");
  await expect.poll(place).not.toBe(was);
  await page.keyboard.press("Control+z");
  await expect.poll(place).toBe(was);
});

test("a graph is looked at where it was left, a capsule's too; what is wide opens at its end", async ({
  page,
}) => {
  const ground = page.locator(".react-flow__viewport");
  const view = () => ground.evaluate((element) => getComputedStyle(element).transform);
  const turnWheel = async () => {
    const before = await view();
    await page.mouse.move(820, 400);
    await page.mouse.wheel(0, 240);
    await expect.poll(view).not.toBe(before);
    // It rests when nothing has come for a moment.
    await expect(page.locator(".graph-moving")).toHaveCount(0);
    return view();
  };
  await openPiece(page, "Petal clock");
  await expect(head(page, "stage")).toBeInViewport({ ratio: 0.9 });
  const left = await turnWheel();
  const capsule = page.getByRole("navigation", { name: "Open capsules" });
  const open = () => head(page, "flower").dispatchEvent("dblclick");
  await open();
  await expect(capsule).toBeVisible();
  const leftInside = await turnWheel();
  await page.keyboard.press("Escape");
  await expect(capsule).toBeHidden();
  await expect.poll(view).toBe(left);
  await page.reload();
  await expect(head(page, "stage")).toBeVisible();
  await expect.poll(view).toBe(left);
  await open();
  await expect.poll(view).toBe(leftInside);
  await openPiece(page, "Snails on a slope");
  await expect(head(page, "stage")).toBeInViewport({ ratio: 0.9 });
});
