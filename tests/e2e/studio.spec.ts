import { readFileSync } from "node:fs";
import { request } from "node:http";
import { PNG } from "pngjs";
import { DRAWN } from "./drawn-pieces";
import {
  addNode,
  choose,
  goToNode,
  newPiece,
  openPiece,
  restingPicture,
  ringPiece,
  saved,
  stagePicture,
  tally,
  typeNumber,
  viewAtRest,
  wallPiece,
} from "./helpers";
import { expect, test } from "./own-studio";

test("the page is isolated, keeps a strict policy and reports no fault", async ({ page }) => {
  const faults: string[] = [];
  page.on("pageerror", (error) => faults.push(error.message));
  page.on("console", (message) => message.type() === "error" && faults.push(message.text()));
  const response = await page.goto("/");
  expect(response?.headers()["content-security-policy"]).toContain("script-src 'self' 'nonce-");
  expect(response?.headers()["content-security-policy"]).not.toContain("'unsafe-eval'");
  await openPiece(page, "Jar ring");
  await expect(tally(page)).toContainText("12 clones");
  expect(await page.evaluate(() => crossOriginIsolated)).toBe(true);
  expect(faults).toEqual([]);
});

test("no page and no route answers under the name of another host, or to one that traces", async ({
  studio,
}) => {
  const asked = (path: string, headers: Record<string, string>, method = "GET") =>
    new Promise<number>((done, fail) => {
      const { hostname, port } = new URL(studio);
      request({ hostname, port, path, method, headers }, (answer) => {
        answer.resume();
        done(answer.statusCode ?? 0);
      })
        .on("error", fail)
        .end();
    });
  for (const path of ["/", "/piece/x", "/api/pieces", "/icon.svg", "/_next/static/x.js"])
    expect(await asked(path, { host: "evil.example" })).toBe(403);
  expect(await asked("/", { host: new URL(studio).host })).toBe(200);
  expect(await asked("/", { host: new URL(studio).host }, "TRACE")).toBe(405);
  for (const path of ["/piece/%E0%A4%A", "/api/pieces/%", "/%zz"])
    expect(await asked(path, { host: new URL(studio).host })).toBe(400);
});

test("dragging a slider moves the stage live, is one step of undo, and is saved", { tag: "@quick" }, async ({
  page,
}) => {
  await openPiece(page, "Jar ring");
  await expect(tally(page)).toContainText("12 clones");
  const dial = page.getByRole("spinbutton", { name: "count of ring" }).last();
  const box = await dial.boundingBox();
  if (!box) throw new Error("There is no dial.");
  await page.mouse.move(box.x + 20, box.y + 10);
  await page.mouse.down();
  await page.mouse.move(box.x + 40, box.y + 10, { steps: 5 });
  await expect(tally(page)).toContainText(/1[345] clones/);
  await page.mouse.move(box.x + 50, box.y + 10, { steps: 5 });
  await page.mouse.up();
  await expect(tally(page)).not.toContainText("12 clones");
  await page.keyboard.press("Control+z");
  await expect(tally(page)).toContainText("12 clones");
  await page.keyboard.press("Control+Shift+z");
  await expect(tally(page)).not.toContainText("12 clones");
  await page.keyboard.press("Control+z");
  await expect(saved(page)).toBeVisible();
});

test("asking for too much is refused on the card; the repair is a click; the stage keeps the last result", async ({
  page,
}) => {
  await openPiece(page, "Jar ring");
  await expect(tally(page)).toContainText("12 clones");
  await typeNumber(page, "count of ring", "10^9");
  const card = page.locator("[data-node=ring]");
  await expect(card).toHaveAttribute("data-state", "failed");
  await expect(card.getByRole("alert")).toContainText(
    '"count" asks for 1 000 million sites; the limit is 4 million',
  );
  await expect(tally(page)).toContainText("showing the last good result");
  await expect(card.getByRole("button", { name: 'Set "count" to 4 million' })).toBeVisible();
  // The repair fits the budget of the node; here the ring is then made small again by hand.
  await page.keyboard.press("Control+z");
  await expect(tally(page)).toContainText("12 clones");
  await expect(card).not.toHaveAttribute("data-state", "failed");
});

test("an error on a card offers its repair", async ({ page }) => {
  await wallPiece(page);
  await expect(tally(page)).toContainText("576 clones");
  await goToNode(page, "Noise");
  await typeNumber(page, "size of hills", "0");
  await page.getByRole("button", { name: 'Set "size" to 1' }).first().click();
  await expect(page.locator("[data-node=hills]")).toHaveAttribute("data-state", /ran|reused/);
});

test("a link dropped on empty ground opens the adder with what fits, and links what is chosen", async ({
  page,
}) => {
  await newPiece(page);
  await page.keyboard.press("2");
  await addNode(page, [120, 120], "clock", "Clock");
  // The new card is brought into view; where its port was on the way there is nothing to press.
  await viewAtRest(page);
  const port = await page.getByLabel("output along of clock", { exact: true }).boundingBox();
  if (!port) throw new Error("There is no port.");
  await page.mouse.move(port.x + 9, port.y + 7);
  await page.mouse.down();
  await page.mouse.move(420, 500, { steps: 8 });
  await expect(page.locator(".react-flow__connection")).toHaveCount(1);
  await page.mouse.up();
  await expect(page.getByRole("option", { name: "Merge" })).toHaveCount(0);
  await page.getByPlaceholder("What should it be linked with?").fill("arith");
  await choose(page, "Arithmetic");
  await expect(page.locator("[data-node=arithmetic]")).toContainText("linked");
  await page.keyboard.press("Delete");
  await expect(page.locator("[data-node=arithmetic]")).toHaveCount(0);
  await page.keyboard.press("Control+z");
  await expect(page.locator("[data-node=arithmetic]")).toContainText("linked");
});

test("a mesh is brought in, cloned, and a bad one is refused in words", async ({ page }) => {
  await newPiece(page);
  await page.keyboard.press("2");
  await addNode(page, [120, 120], "import", "Import");
  const chooser = page.getByLabel("File for file of import").first();
  await chooser.setInputFiles({
    name: "broken.obj",
    mimeType: "text/plain",
    buffer: Buffer.from("v 0 0 0\nf 1 2 3\n"),
  });
  await expect(page.getByRole("alert").filter({ hasText: "broken.obj" })).toContainText("line 2");
  await chooser.setInputFiles({
    name: "leaf.obj",
    mimeType: "text/plain",
    buffer: Buffer.from("v 0 0 0\nv 1 0 0\nv 0 1 0\nv 0 0 1\nf 1 3 2\nf 1 2 4\nf 2 3 4\nf 1 4 3\n"),
  });
  // The card grows when the file has come.
  await expect(page.locator("[data-node=import]")).toContainText("leaf.obj");
  await expect(page.locator("[data-node=import]")).toContainText("4 faces");
  await expect(saved(page)).toBeVisible();
});

test("it plays, and pauses where it is", { tag: "@quick" }, async ({ page }) => {
  await openPiece(page, "Jar ring");
  await expect(tally(page)).toContainText("frame 0");
  await page.keyboard.press("Space");
  await expect(tally(page)).not.toContainText("frame 0");
  await page.keyboard.press("Space");
  const frame = await page.getByRole("slider", { name: "Frame" }).getAttribute("aria-valuenow");
  await page.waitForTimeout(400);
  expect(await page.getByRole("slider", { name: "Frame" }).getAttribute("aria-valuenow")).toBe(frame);
});

test("a picture of the stage has the piece's size and something on it", async ({ page }) => {
  await openPiece(page, "Jar ring");
  await expect(tally(page)).toContainText("12 clones");
  await page.getByRole("button", { name: "Take away" }).click();
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("dialog").getByRole("button", { name: "Take away" }).click(),
  ]);
  const picture = PNG.sync.read(readFileSync(await download.path()));
  expect([picture.width, picture.height]).toEqual([1920, 1080]);
  const colors = new Set<number>();
  for (let i = 0; i < picture.data.length; i += 4 * 97) colors.add(picture.data.readUInt32BE(i) >>> 8);
  expect(colors.size).toBeGreaterThan(50);
});

test("everything is reached by keyboard: search, theme, shortcuts, a node, its value", async ({ page }) => {
  await openPiece(page, "Jar ring");
  await expect(tally(page)).toContainText("12 clones");
  await page.keyboard.press("Control+k");
  await page.keyboard.type("night and day");
  await choose(page, /night and day/);
  await expect(page.locator("html")).toHaveAttribute("data-theme", "day");
  await page.keyboard.press("?");
  await expect(page.getByRole("dialog", { name: "Shortcuts" })).toContainText("Play or pause");
  await page.keyboard.press("Escape");
  await goToNode(page, "Ring sites");
  await expect(
    page.getByRole("region", { name: "Detail" }).getByRole("heading", { name: /Ring sites/ }),
  ).toBeVisible();
  const count = page
    .getByRole("region", { name: "Detail" })
    .getByRole("spinbutton", { name: "count of ring" })
    .last();
  await count.focus();
  await page.keyboard.press("ArrowUp");
  await expect(tally(page)).toContainText("13 clones");
  await page.keyboard.press("ArrowDown");
  await expect(tally(page)).toContainText("12 clones");
});

test("the shelf draws moving pictures, finds pieces, and refuses a file that is no piece", async ({
  page,
}) => {
  await page.goto("/");
  await page.getByLabel("Find a piece").fill("beds ri");
  await expect(page.getByRole("link")).toHaveCount(1);
  await page.getByLabel("Find a piece").fill("");
  await page.getByLabel("Piece file").setInputFiles({
    name: "x.glemmo.json",
    mimeType: "application/json",
    buffer: Buffer.from('{"glemmo":1}'),
  });
  await expect(page.getByRole("alert").filter({ hasText: "x.glemmo.json" })).toContainText("name:");
  const drawn = async () => {
    const answer = await page.request.get("/api/pieces");
    const { pieces } = (await answer.json()) as {
      pieces: { name: string; thumbnailFrames: number | null }[];
    };
    return pieces.filter(({ name, thumbnailFrames }) => DRAWN.includes(name) && thumbnailFrames !== null)
      .length;
  };
  await expect.poll(drawn, { timeout: 90_000 }).toBe(DRAWN.length);
});

test("small clones are drawn as discs when the piece asks for it, and whole ones otherwise", async ({
  page,
}) => {
  const faults: string[] = [];
  page.on("console", (message) => message.type() === "error" && faults.push(message.text()));
  // One whose picture is not made finer while the stage rests.
  await ringPiece(page);
  const detail = page.getByRole("region", { name: "Detail" });
  const discs = detail.getByRole("spinbutton", { name: /^discs/ });
  // Cards are brought into view when they have been measured, perhaps under the pointer; a user would click again.
  await expect(async () => {
    await page.locator("[data-node=stage]").click({ position: { x: 60, y: 12 } });
    await expect(discs).toBeVisible({ timeout: 3_000 });
  }).toPass();
  const whole = await restingPicture(page);
  const set = async (pixels: string) => {
    await discs.click();
    await page.keyboard.type(pixels);
    await page.keyboard.press("Enter");
  };
  await set("4000");
  await expect.poll(() => stagePicture(page)).not.toBe(whole);
  await set("0");
  await expect.poll(() => stagePicture(page)).toBe(whole);
  expect(faults).toEqual([]);
});
