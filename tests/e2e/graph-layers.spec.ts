/** How browsers paint the graph while it moves. */
import type { CDPSession } from "@playwright/test";
import { open, piece, viewAtRest } from "./helpers";
import { expect, type Page, test } from "./own-studio";

interface Layer {
  readonly drawsContent: boolean;
  readonly backendNodeId?: number;
}

/** How many layers are painted of what moves with the view. */
async function movingLayers(session: CDPSession, layers: readonly Layer[]): Promise<number> {
  let count = 0;
  for (const { drawsContent, backendNodeId } of layers) {
    if (!drawsContent || backendNodeId === undefined) continue;
    const { object } = await session.send("DOM.resolveNode", { backendNodeId });
    const { result } = await session.send("Runtime.callFunctionOn", {
      objectId: object.objectId,
      functionDeclaration: `function () {
        const element = this.nodeType === Node.ELEMENT_NODE ? this : this.parentElement;
        return Boolean(element && element.closest(".react-flow__viewport"));
      }`,
      returnByValue: true,
    });
    if (result.value === true) count++;
  }
  return count;
}

async function layersWhileDragged(page: Page): Promise<number> {
  const session = await page.context().newCDPSession(page);
  let layers: readonly Layer[] = [];
  session.on("LayerTree.layerTreeDidChange", (told) => {
    if (told.layers) layers = told.layers;
  });
  await session.send("DOM.enable");
  await session.send("LayerTree.enable");
  const pane = await page.getByRole("region", { name: "Graph", exact: true }).boundingBox();
  if (!pane) throw new Error("There is no graph.");
  // Below all cards.
  const [x, y] = [pane.x + pane.width / 2, pane.y + pane.height - 90];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + 40, y - 10);
  await page.mouse.move(x + 60, y - 20);
  await expect.poll(() => movingLayers(session, layers)).toBeGreaterThan(0);
  const count = await movingLayers(session, layers);
  await page.mouse.up();
  await session.detach();
  return count;
}

test("cards far from each other are one layer while the view moves", async ({ page }) => {
  const document = piece(
    "Far apart",
    [
      ["stage", "stage", -300, 0],
      ...Array.from({ length: 24 }, (_, i): [string, string, number, number] => [
        `n${i}`,
        "arithmetic",
        (i % 6) * 700,
        Math.floor(i / 6) * 260,
      ]),
    ],
    [],
  );
  await open(page, document);
  await page.keyboard.press("2");
  await viewAtRest(page);
  expect(await layersWhileDragged(page)).toBe(1);
  // What it would be without the sheet below them.
  await page.addStyleTag({ content: ".react-flow__viewport::before { display: none }" });
  expect(await layersWhileDragged(page)).toBeGreaterThan(1);
});
