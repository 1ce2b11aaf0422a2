import { readFileSync } from "node:fs";
import { expect, type Locator, type Page } from "@playwright/test";
import { blankDocument, type PieceDocument } from "@/core/document/schema";
import type { Setting } from "@/core/nodes/ports";

/** Opens a piece by its name, without waiting for the shelf and its pictures. */
export async function openPiece(page: Page, name: string): Promise<void> {
  const answer = await page.request.get("/api/pieces");
  const { pieces } = (await answer.json()) as { pieces: { id: string; name: string }[] };
  const piece = pieces.find((one) => one.name === name);
  if (!piece) throw new Error(`There is no piece "${name}" on the shelf.`);
  await page.goto(`/piece/${piece.id}`);
  await expect(page.getByRole("region", { name: "Stage" })).toBeVisible();
}

/** The document of the open piece as the server has it. */
export async function savedDocument(page: Page): Promise<PieceDocument> {
  const answer = await page.request.get(`/api/pieces/${page.url().split("/").at(-1)}`);
  return ((await answer.json()) as { document: PieceDocument }).document;
}

/** Makes a blank piece and waits until it is worked out. */
export async function newPiece(page: Page): Promise<void> {
  await page.goto("/");
  await page.getByRole("button", { name: "Blank piece" }).click();
  await expect(page.locator("[data-node=stage]")).toHaveAttribute("data-state", /ran|reused/);
}

/** Twelve boxes around a circle, each turning. */
export const ringPiece = (page: Page): Promise<void> => open(page, RING);

/** A grid of blocks, lifted by noise that comes round. */
export const wallPiece = (page: Page): Promise<void> => open(page, WALL);

/** Opens a piece that is made for a test, worked out. */
export async function open(page: Page, document: PieceDocument): Promise<void> {
  const answer = await page.request.post("/api/pieces", { data: { document } });
  const { id } = (await answer.json()) as { id: string };
  await page.goto(`/piece/${id}`);
  await expect(page.locator("[data-node=stage]")).toHaveAttribute("data-state", /ran|reused/);
}

/** A piece of nodes (id, type, place, settings) and links. */
export const piece = (
  name: string,
  nodes: readonly (readonly [string, string, number, number, Record<string, Setting>?])[],
  links: readonly string[],
): PieceDocument => ({
  ...blankDocument(name),
  graph: {
    nodes: nodes.map(([id, type, x, y, set]) => ({ id, type, at: [x, y], set: { ...set } })),
    links: links.map((link) => ({ from: link.split(">")[0], to: link.split(">")[1] })),
  },
});

const RING = piece(
  "Ring of something",
  [
    ["ring", "ring-sites", 0, 0],
    ["shape", "box", 0, 260, { size: [0.7, 0.5, 0.5] }],
    ["clones", "clone-onto-sites", 300, 40],
    ["clock", "clock", 300, 300],
    ["degrees", "arithmetic", 600, 300, { do: "multiply", b: 360 }],
    ["spin", "angles", 900, 300],
    ["turn", "rotate", 600, 20],
    ["stage", "stage", 900, 0],
  ],
  [
    "ring.sites>clones.sites",
    "shape.shape>clones.shapes",
    "clones.clones>turn.shape",
    "clock.along>degrees.a",
    "degrees.value>spin.x",
    "spin.rotation>turn.turn",
    "turn.shape>stage.shape",
  ],
);

const WALL = piece(
  "Wall that ripples",
  [
    ["wall", "grid-sites", 0, 0, { across: 24, deep: 24, spacing: [0.5, 0.5, 0.5] }],
    ["block", "box", 0, 300, { size: [0.42, 0.42, 0.42] }],
    ["clones", "clone-onto-sites", 300, 40],
    ["hills", "noise", 300, 300, { size: 3, speed: 0.5, loop: true }],
    ["rise", "move", 600, 20],
    ["colors", "gradient", 600, 300, { low: -0.6, high: 0.6 }],
    ["paint", "tint", 900, 20],
    ["stage", "stage", 1200, 0],
  ],
  [
    "wall.sites>clones.sites",
    "block.shape>clones.shapes",
    "clones.clones>rise.shape",
    "hills.value>rise.amount",
    "hills.value>colors.value",
    "rise.shape>paint.shape",
    "colors.color>paint.color",
    "paint.shape>stage.shape",
  ],
);

/** What is seen when it has come to rest: the same twice, so many milliseconds apart. */
async function resting(see: () => Promise<string>, apart: number): Promise<string> {
  let before = "";
  await expect(async () => {
    const now = await see();
    const same = now === before;
    before = now;
    expect(same).toBe(true);
  }).toPass({ intervals: [apart] });
  return before;
}

/** Waits until the graph's view has come to rest. */
export const viewAtRest = (page: Page): Promise<string> =>
  resting(() => page.locator(".react-flow__viewport").evaluate((e) => getComputedStyle(e).transform), 250);

/** Shows all inputs on a card. */
export const unfold = (page: Page, node: string): Promise<void> =>
  page.getByRole("button", { name: new RegExp(`more inputs of ${node}$`) }).click();

/** Adds a node with the adder at a place on the screen, by what is typed. */
export async function addNode(
  page: Page,
  at: readonly [number, number],
  words: string,
  title: string,
): Promise<void> {
  await page.mouse.move(at[0], at[1]);
  const search = page.getByPlaceholder("What should happen?");
  // A list that is still closing takes keys; a user would press again.
  await expect(async () => {
    if (!(await search.isVisible())) await page.keyboard.press("/");
    await expect(search).toBeVisible({ timeout: 5_000 });
  }).toPass();
  await search.fill(words);
  await choose(page, title);
  await expect(page.getByRole("dialog", { name: "Add a node" })).toBeHidden();
}

/** Enter, once the wanted node is the chosen one. */
export async function choose(page: Page, title: string | RegExp): Promise<void> {
  await expect(page.getByRole("option", { name: title, selected: true })).toBeVisible();
  await page.keyboard.press("Enter");
}

/** Chooses a node by the search, which brings it into view. */
export async function goToNode(page: Page, title: string): Promise<void> {
  await page.keyboard.press("Control+k");
  await page.keyboard.type(title);
  await choose(page, new RegExp(title));
}

const middle = async (locator: Locator): Promise<[number, number]> => {
  const box = await locator.boundingBox();
  if (!box) throw new Error("The port is not on the screen.");
  return [box.x + box.width / 2, box.y + box.height / 2];
};

/** Drags a link from an output to an input with the pointer. */
export async function link(page: Page, from: string, to: string): Promise<void> {
  const [node, port] = from.split(".");
  const [target, input] = to.split(".");
  const start = await middle(page.getByLabel(`output ${port} of ${node}`, { exact: true }));
  const end = await middle(page.getByLabel(`input ${input} of ${target}`, { exact: true }));
  await page.mouse.move(...start);
  await page.mouse.down();
  await page.mouse.move((start[0] + end[0]) / 2, (start[1] + end[1]) / 2, { steps: 4 });
  await page.mouse.move(...end, { steps: 4 });
  await page.mouse.up();
}

/** Types into a number field, as a user does: click, type, Enter. */
export async function typeNumber(page: Page, label: string, text: string): Promise<void> {
  await page.getByRole("spinbutton", { name: label, exact: true }).last().click();
  await page.getByRole("textbox", { name: label, exact: true }).fill(text);
  await page.keyboard.press("Enter");
}

export const tally = (page: Page): Locator => page.getByTestId("tally");
export const saved = (page: Page): Locator => page.getByRole("status").filter({ hasText: /^saved$/ });

export interface CardBox {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** Where all cards of the graph are on the screen. */
export const cardBoxes = async (page: Page): Promise<CardBox[]> =>
  Promise.all(
    (await page.locator(".react-flow__node-card").all()).map(async (card) => {
      const box = await card.boundingBox();
      if (!box) throw new Error("A card is not drawn.");
      return box;
    }),
  );

/** None lies on another. */
export function expectApart(boxes: readonly CardBox[]): void {
  for (const [i, a] of boxes.entries())
    for (const b of boxes.slice(i + 1))
      expect(
        a.x + a.width <= b.x || b.x + b.width <= a.x || a.y + a.height <= b.y || b.y + b.height <= a.y,
      ).toBe(true);
}

/** Drops files on the studio, as a file manager does. */
export async function drop(page: Page, files: Record<string, string>, at: readonly [number, number]) {
  const data = await page.evaluateHandle((named) => {
    const transfer = new DataTransfer();
    for (const [name, base64] of Object.entries(named))
      transfer.items.add(new File([Uint8Array.from(atob(base64), (c) => c.charCodeAt(0))], name));
    return transfer;
  }, files);
  const where = { dataTransfer: data, clientX: at[0], clientY: at[1] };
  await page.dispatchEvent("[aria-label=Stage]", "dragover", where);
  await expect(page.getByText("Drop to bring it in")).toBeVisible();
  await page.dispatchEvent("[aria-label=Stage]", "drop", where);
}

export const takeAwayOf = (page: Page): Locator => page.getByRole("dialog", { name: "Take away" });

/** The file that comes when a button of the open dialog is pressed. */
export async function taken(page: Page, button = "Take away"): Promise<Buffer> {
  const [file] = await Promise.all([
    page.waitForEvent("download", { timeout: 150_000 }),
    takeAwayOf(page).getByRole("button", { name: button, exact: true }).click(),
  ]);
  return readFileSync(await file.path());
}

/** A picture of the stage as a file, so many pixels wide. @param looks which of the choices of looks; one look when missing */
export async function takePicture(
  page: Page,
  width: number,
  format: RegExp,
  looks?: RegExp,
): Promise<Buffer> {
  await page.keyboard.press("Control+e");
  await takeAwayOf(page).getByRole("combobox", { name: "Format" }).click();
  await page.getByRole("option", { name: format }).click();
  await typeNumber(page, "Width in pixels", String(width));
  if (looks) {
    await takeAwayOf(page).getByRole("combobox", { name: "Looks gathered in a frame" }).click();
    await page.getByRole("option", { name: looks }).click();
  }
  return taken(page);
}

/** The stage as it is seen, to be compared; below the tally, whose times change by themselves. */
export async function stagePicture(page: Page): Promise<string> {
  const box = await page.getByLabel("The result").boundingBox();
  if (!box) throw new Error("There is no stage.");
  return (await page.screenshot({ clip: { ...box, y: box.y + 60, height: box.height - 60 } })).toString(
    "base64",
  );
}

/** The stage when it changes no more. */
export const restingPicture = (page: Page): Promise<string> => resting(() => stagePicture(page), 600);
