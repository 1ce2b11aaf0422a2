/** The first hour: how graphs read at their opening, hands, areas, the tour, examples. Common practice, no source. */
import {
  addNode,
  cardBoxes,
  expectApart,
  goToNode,
  newPiece,
  openPiece,
  ringPiece,
  saved,
  savedDocument,
  tally,
} from "./helpers";
import { expect, type Page, test } from "./own-studio";

/** Names on the shelf. */
const names = async (page: Page): Promise<string[]> => {
  const { pieces } = (await (await page.request.get("/api/pieces")).json()) as {
    pieces: { name: string; thumbnailFrames: number | null }[];
  };
  return pieces.map(({ name }) => name);
};

/** Words of the graph that are seen and smaller than 11 pixels of the screen. */
const smallWords = (page: Page): Promise<string[]> =>
  page.evaluate(() => {
    const viewport = document.querySelector(".react-flow__viewport");
    const zoom = viewport ? new DOMMatrix(getComputedStyle(viewport).transform).a : 1;
    return [...document.querySelectorAll<HTMLElement>(".react-flow__node *")]
      .filter((element) =>
        [...element.childNodes].some((node) => node.nodeType === 3 && node.textContent?.trim()),
      )
      .filter((element) => element.checkVisibility({ visibilityProperty: true }))
      .filter((element) => Number.parseFloat(getComputedStyle(element).fontSize) * zoom < 10.99)
      .map((element) => `${element.textContent} ${getComputedStyle(element).fontSize} at ${zoom}`);
  });

/** Links that go through a card, by places on their paths as they are drawn. */
const crossings = (page: Page): Promise<string[]> =>
  page.evaluate(() => {
    const cards = [...document.querySelectorAll(".react-flow__node-card")].map((card) =>
      card.getBoundingClientRect(),
    );
    return [...document.querySelectorAll<SVGPathElement>(".react-flow__edge-interaction")].flatMap((path) => {
      const matrix = path.getScreenCTM();
      const length = path.getTotalLength();
      for (let at = 0; matrix && at <= length; at += 4) {
        const { x, y } = path.getPointAtLength(at).matrixTransform(matrix);
        if (cards.some((c) => x > c.left + 1 && x < c.right - 1 && y > c.top + 1 && y < c.bottom - 1))
          return [path.closest(".react-flow__edge")?.getAttribute("data-id") ?? "?"];
      }
      return [];
    });
  });

test("every demo piece opens with words that can be read, cards apart and links around them", async ({
  page,
}) => {
  test.slow();
  // Cards follow from the document alone, so nothing is worked out: it would take minutes.
  await page.addInitScript(() => {
    Worker.prototype.postMessage = () => {};
  });
  for (const name of await names(page)) {
    await openPiece(page, name);
    await page.keyboard.press("2");
    await expect(page.locator(".react-flow__edge-interaction").first()).toBeAttached();
    await page.keyboard.press("g");
    await expect(async () => {
      expect([name, await smallWords(page)]).toEqual([name, []]);
      expect([name, await crossings(page)]).toEqual([name, []]);
      expectApart(await cardBoxes(page));
    }).toPass();
  }
});

test("what a worked-out graph says can be read from afar and nearby", async ({ page }) => {
  await openPiece(page, "Jar ring");
  await expect(page.locator("[data-node=stage]")).toHaveAttribute("data-state", /ran|reused/);
  expect(await smallWords(page)).toEqual([]);
  await goToNode(page, "Stage");
  expect(await smallWords(page)).toEqual([]);
});

test("the first shelf is full: demo pieces and starters come with their moving pictures", async ({
  page,
}) => {
  await page.goto("/");
  for (const starter of await page.getByRole("region", { name: "Starters" }).getByRole("button").all()) {
    const picture = await starter
      .locator("span")
      .first()
      .evaluate((span) => getComputedStyle(span).backgroundImage);
    const address = /url\("(.+)"\)/.exec(picture)?.[1] ?? "";
    const answer = await page.request.get(address);
    expect([address, answer.headers()["content-type"]]).toEqual([address, "image/webp"]);
  }
  await page.getByRole("button", { name: /^Appear from the middle/ }).click();
  await expect(tally(page)).toContainText("289 clones");
});

test("right-click lists what can be done, with keys; Ctrl-drag copies; several are changed together; all is taken back", async ({
  page,
}) => {
  await ringPiece(page);
  const card = (node: string) => page.locator(`[data-node=${node}]`);
  await page.keyboard.press("2");
  await page.keyboard.press("g");
  await card("shape").click({ button: "right", position: { x: 50, y: 10 } });
  await expect(page.getByRole("menuitem", { name: /Duplicate the chosen nodes.*Ctrl D/ })).toBeVisible();
  await page.getByRole("menuitem", { name: /Pass by the chosen nodes/ }).click();
  await expect(card("shape")).toContainText("passed by");
  await page.keyboard.press("Control+z");
  const pane = await page.locator(".react-flow__pane").boundingBox();
  await page.mouse.click((pane?.x ?? 0) + 12, (pane?.y ?? 0) + 12, { button: "right" });
  await expect(page.getByRole("menuitem", { name: /Show the whole graph/ })).toBeVisible();
  await page.keyboard.press("Escape");
  // A copy is dragged off with Ctrl.
  const box = await card("shape").boundingBox();
  if (!box) throw new Error("The card is not on the screen.");
  await page.keyboard.down("Control");
  await page.mouse.move(box.x + 40, box.y + 10);
  await page.mouse.down();
  await page.mouse.move(box.x + 60, box.y + 120, { steps: 6 });
  await page.mouse.up();
  await page.keyboard.up("Control");
  await expect(card("box")).toBeVisible();
  const after = await card("shape").boundingBox();
  expect(Math.abs((after?.y ?? 0) - box.y)).toBeLessThan(2);
  // Both boxes are chosen and made higher at once.
  await card("shape").click({ position: { x: 60, y: 10 } });
  await card("box").click({ position: { x: 60, y: 10 }, modifiers: ["Shift"] });
  const detail = page.getByRole("region", { name: "Detail" });
  await expect(detail).toContainText("2 nodes are chosen");
  await detail.getByRole("spinbutton", { name: "y of size of shape" }).click();
  await page.keyboard.type("0.9");
  await page.keyboard.press("Enter");
  await expect(saved(page)).toBeVisible();
  const sizes = async () =>
    (await savedDocument(page)).graph.nodes.filter(({ type }) => type === "box").map(({ set }) => set.size);
  await expect.poll(sizes).toEqual([
    [0.7, 0.9, 0.5],
    [0.7, 0.9, 0.5],
  ]);
  await page.keyboard.press("Control+z");
  await expect.poll(sizes).toEqual([
    [0.7, 0.5, 0.5],
    [0.7, 0.5, 0.5],
  ]);
});

test("a number is dragged by its name", async ({ page }) => {
  await newPiece(page);
  await page.keyboard.press("2");
  await addNode(page, [300, 200], "ring sites", "Ring sites");
  const detail = page.getByRole("region", { name: "Detail" });
  const name = await detail.getByText("radius", { exact: true }).boundingBox();
  if (!name) throw new Error("There is no radius.");
  await page.mouse.move(name.x + 10, name.y + 6);
  await page.mouse.down();
  await page.mouse.move(name.x + 90, name.y + 6, { steps: 8 });
  await page.mouse.up();
  const value = detail.getByRole("spinbutton", { name: "radius of ring-sites" });
  expect(Number(await value.getAttribute("aria-valuenow"))).toBeGreaterThan(4);
});

test("the areas lie three ways, kept for the piece; views of the graph can be gone back to", async ({
  page,
}) => {
  await ringPiece(page);
  const stage = page.getByRole("region", { name: "Stage" });
  const graph = page.getByRole("region", { name: "Graph", exact: true });
  const below = async () => {
    const [s, g] = [await stage.boundingBox(), await graph.boundingBox()];
    return (g?.y ?? 0) >= (s?.y ?? 0) + (s?.height ?? 0) && (g?.width ?? 0) > 1200;
  };
  await page.getByRole("button", { name: "Graph under the stage" }).click();
  await expect.poll(below).toBe(true);
  const border = await page.getByRole("separator", { name: "Border before graph" }).boundingBox();
  if (!border) throw new Error("There is no border.");
  await page.mouse.move(600, border.y);
  await page.mouse.down();
  await page.mouse.move(600, border.y - 120, { steps: 5 });
  await page.mouse.up();
  const height = async () => Math.round((await graph.boundingBox())?.height ?? 0);
  const dragged = await height();
  await page.reload();
  await expect.poll(below).toBe(true);
  await expect.poll(async () => Math.abs((await height()) - dragged)).toBeLessThan(4);
  // As a sheet it is called and sent away.
  await page.keyboard.press("d");
  await expect(page.locator(".graph-sheet")).toBeVisible();
  await page.keyboard.press("e");
  await expect(graph).toBeHidden();
  await page.keyboard.press("e");
  await expect(graph).toBeVisible();
  // The borders of each arrangement are where they were left.
  await page.getByRole("button", { name: "Graph under the stage" }).click();
  await expect.poll(async () => Math.abs((await height()) - dragged)).toBeLessThan(4);
  const view = () =>
    page.locator(".react-flow__viewport").evaluate((element) => getComputedStyle(element).transform);
  await page.keyboard.press("g");
  const whole = await view();
  await page.locator("[data-node=ring]").click({ position: { x: 30, y: 10 } });
  await page.keyboard.press("Shift+G");
  await expect.poll(view).not.toBe(whole);
  await page.keyboard.press("z");
  await expect.poll(view).toBe(whole);
});

test("the tour is done step by step, left, and taken up", async ({ page }) => {
  await page.goto("/");
  await page.getByRole("button", { name: "Tour", exact: true }).click();
  const tour = page.getByRole("complementary", { name: "Tour" });
  await expect(tour).toContainText("Step 1 of 6");
  const dial = page.getByRole("region", { name: "Dials" }).getByRole("spinbutton", { name: /count of ring/ });
  await dial.click();
  await page.keyboard.type("15");
  await page.keyboard.press("Enter");
  await expect(tour).toContainText("Step 2 of 6");
  await page.keyboard.press("Space");
  await expect(tour).toContainText("Step 3 of 6");
  await page.keyboard.press("Space");
  await tour.getByRole("button", { name: "Leave the tour" }).click();
  await expect(tour).toBeHidden();
  await page.goto("/");
  await page.getByRole("button", { name: "Tour", exact: true }).click();
  await expect(tour).toContainText("Step 3 of 6");
});

test("an example of a node opens over the piece and is copied into it", async ({ page }) => {
  await newPiece(page);
  await page.keyboard.press("2");
  await addNode(page, [300, 200], "wave", "Wave");
  await page.getByRole("button", { name: "Example of Wave" }).click();
  const dialog = page.getByRole("dialog", { name: /Wave, an example/ });
  await expect(dialog.getByRole("img", { name: /Clone onto sites/ })).toBeVisible();
  await dialog.getByRole("button", { name: "Copy it into the piece" }).click();
  await expect(page.locator(".react-flow__node-card")).toHaveCount(7);
});
