/** Takes the pictures in docs/screenshots from the demo data, on a server and a database of its own. */
import { chromium, type Page } from "@playwright/test";
import { CHROMIUM, CHROMIUM_ARGS } from "./chromium";
import { serveOwnData } from "./own-server";

const PORT = 4392;
const BASE = `http://127.0.0.1:${PORT}`;
const DATA = ".shots";
async function open(page: Page, name: string): Promise<void> {
  await page.goto(BASE);
  await page.getByRole("link", { name, exact: true }).click();
  await page.getByTestId("tally").waitFor();
  // Ranges, histograms and the last picture arrive shortly after the first result.
  await page.waitForTimeout(4000);
}

const save = (page: Page, name: string) => page.screenshot({ path: `docs/screenshots/${name}.png` });

/** Chooses a node by the search, which brings it into view. */
async function goTo(page: Page, words: string): Promise<void> {
  await page.keyboard.press("Control+k");
  await page.keyboard.type(words);
  await page.keyboard.press("Enter");
  await page.waitForTimeout(800);
}

const SHOTS: Record<string, (page: Page) => Promise<void>> = {
  async shelf(page) {
    await page.goto(BASE);
    for (let i = 0; i < 120; i++) {
      const answer = await page.request.get(`${BASE}/api/pieces`);
      const { pieces } = (await answer.json()) as { pieces: { thumbnailFrames: number | null }[] };
      if (pieces.every((piece) => piece.thumbnailFrames !== null)) break;
      await page.waitForTimeout(2000);
    }
    await page.reload();
    await page.waitForTimeout(1500);
  },
  async studio(page) {
    await open(page, "Seed head, breathing");
    await goTo(page, "Gradient heat");
    await page.waitForTimeout(1500);
  },
  async adder(page) {
    await open(page, "Jar ring");
    await page.mouse.move(640, 180);
    await page.keyboard.press("/");
    await page.keyboard.type("random size");
    await page.waitForTimeout(500);
  },
  async error(page) {
    await open(page, "Petri rings");
    await goTo(page, "Grid sites");
    await page
      .getByRole("region", { name: "Detail" })
      .getByRole("spinbutton", { name: "across of lattice" })
      .click();
    await page.keyboard.type("90000000");
    await page.keyboard.press("Enter");
    await page.waitForTimeout(2500);
  },
  async particles(page) {
    await open(page, "Bees at the hives");
    await page.keyboard.press("Control+k");
    await page.keyboard.type("Particles");
    await page.waitForTimeout(500);
    await page.keyboard.press("Enter");
    await page.waitForTimeout(2500);
  },
  async lantern(page) {
    await open(page, "Lantern seeds");
    await page.getByRole("button", { name: "Over time", exact: true }).click();
    await page.waitForTimeout(6000);
    await page.mouse.click(391, 375);
    await page.waitForTimeout(6000);
    await page.keyboard.press("g");
    await page.waitForTimeout(1500);
  },
  async word(page) {
    await open(page, "Word in bloom");
    await page.getByRole("slider", { name: "Frame" }).focus();
    for (let i = 0; i < 62; i++) await page.keyboard.press("ArrowRight");
    await page.waitForTimeout(4000);
    await page.keyboard.press("g");
    await page.waitForTimeout(1500);
  },
  async profile(page) {
    await open(page, "Gourd scan revealed");
    await page.getByRole("slider", { name: "Frame" }).focus();
    for (let i = 0; i < 45; i++) await page.keyboard.press("ArrowRight");
    await goTo(page, "Falloff ball");
    await page.waitForTimeout(4000);
  },
  async drawing(page) {
    await open(page, "Leaf becomes label");
    await goTo(page, "Drawn path outline");
    await page.keyboard.press("f");
    await page.getByRole("button", { name: "Point 2", exact: true }).focus();
    await page.waitForTimeout(2500);
  },
  async blank(page) {
    await page.goto(BASE);
    await page.getByRole("button", { name: "Blank piece" }).click();
    await page.waitForTimeout(3000);
  },
  async capsule(page) {
    await open(page, "Petal clock");
    await goTo(page, "Petal ring flower");
    await page.keyboard.press("Enter");
    await page.waitForTimeout(2500);
    await page.keyboard.press("g");
    await page.waitForTimeout(1500);
  },
  async values(page) {
    await open(page, "Seed head, breathing");
    await page.keyboard.press("v");
    await page.waitForTimeout(1500);
    await page.getByRole("button", { name: "scale.y", exact: true }).click();
    await page.waitForTimeout(1500);
    await page.getByRole("grid", { name: "Values" }).getByRole("row").nth(4).click();
    await page.waitForTimeout(2500);
  },
  async trace(page) {
    await open(page, "Seed head, breathing");
    await page.keyboard.press("w");
    await page.waitForTimeout(800);
    await page.mouse.click(330, 250);
    await page.waitForTimeout(2500);
    await goTo(page, "Gradient heat");
    await page.waitForTimeout(2500);
  },
  async compare(page) {
    await open(page, "Petal clock");
    await page.getByRole("button", { name: "Keep these" }).click();
    await page.getByRole("button", { name: "Compare with Look 1" }).click();
    const count = page
      .getByRole("region", { name: "Dials" })
      .getByRole("spinbutton", { name: "count of hours" });
    await count.click();
    await page.keyboard.type("7");
    await page.keyboard.press("Enter");
    await page.keyboard.press("3");
    await page.waitForTimeout(3000);
  },
  async day(page) {
    await open(page, "Jar ring");
    await page.getByRole("button", { name: "Night or day" }).click();
    await page.waitForTimeout(1000);
  },
  async handles(page) {
    await open(page, "Dew sheet");
    await goTo(page, "Falloff near");
    await page.waitForTimeout(2500);
  },
  async curves(page) {
    await open(page, "Seed beds rising");
    await page.getByRole("slider", { name: "Frame" }).focus();
    for (let i = 0; i < 4; i++) await page.keyboard.press("PageUp");
    await page.keyboard.press("s");
    await page.getByRole("button", { name: "Values as curves" }).click();
    await page.getByRole("button", { name: /outer of cold, key at 30/ }).click();
    await page.waitForTimeout(3000);
  },
  async deliveries(page) {
    await open(page, "Jar ring");
    const dialog = page.getByRole("dialog", { name: "Take away" });
    await page.keyboard.press("Control+e");
    await dialog.getByRole("switch", { name: "Many frames" }).click();
    await dialog.getByRole("button", { name: "Take away" }).click();
    await dialog.getByRole("radio", { name: /3D file/ }).check();
    await dialog.getByRole("combobox", { name: "Copies" }).click();
    await page.getByRole("option", { name: /moving/ }).click();
    await dialog.getByRole("button", { name: "Take away" }).click();
    await page.waitForTimeout(4000);
  },
  // Last, as it changes a piece that others show.
  async keys(page) {
    await open(page, "Jar ring");
    await goTo(page, "Ring sites");
    await page.keyboard.press("s");
    await page.keyboard.press("a");
    const detail = page.getByRole("region", { name: "Detail" });
    for (const [frame, radius, rise] of [
      [0, "2.2", "0.6"],
      [40, "4", "1.2"],
      [80, "1.8", "0.2"],
    ] as const) {
      await page.getByRole("slider", { name: "Frame" }).focus();
      await page.keyboard.press("Home");
      for (let i = 0; i < frame / 10; i++) await page.keyboard.press("PageUp");
      for (const [label, value] of [
        ["radius of ring", radius],
        ["rise of ring", rise],
      ]) {
        await detail.getByRole("spinbutton", { name: label, exact: true }).last().click();
        await page.keyboard.type(value);
        await page.keyboard.press("Enter");
      }
    }
    await page.waitForTimeout(1500);
  },
};

async function main(): Promise<void> {
  const server = await serveOwnData(PORT, DATA);
  const wanted = process.argv.slice(2);
  try {
    const browser = await chromium.launch({ executablePath: CHROMIUM, args: CHROMIUM_ARGS });
    for (const [name, shot] of Object.entries(SHOTS)) {
      if (wanted.length > 0 && !wanted.includes(name)) continue;
      const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
      await shot(page);
      await save(page, name);
      await page.close();
      console.log(`docs/screenshots/${name}.png`);
    }
    await browser.close();
  } finally {
    server.end();
  }
}

void main();
