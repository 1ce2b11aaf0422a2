/** Many frames taken away: as one .zip, in a folder, as one file that moves; stopped half-way, and cut off by a reload. */
import { readFileSync } from "node:fs";
import { unzipSync } from "fflate";
import { validateBytes } from "gltf-validator";
import { ringPiece, takeAwayOf, taken, typeNumber } from "./helpers";
import { expect, test } from "./own-studio";

test("a range of frames leaves as one file, and what was done when it is stopped is kept", async ({
  page,
}) => {
  test.slow();
  await ringPiece(page);
  const dialog = takeAwayOf(page);
  const take = async () => unzipSync(await taken(page, "Take away"));
  await page.keyboard.press("Control+e");
  await dialog.getByRole("switch", { name: "Many frames" }).click();
  await typeNumber(page, "Width in pixels", "640");
  await typeNumber(page, "To frame", "10");
  await typeNumber(page, "Every so many frames", "5");
  const pictures = await take();
  const names = Object.keys(pictures);
  expect(names.map((name) => name.replace(/^.*-/, ""))).toEqual(["0000.png", "0005.png", "0010.png"]);
  for (const bytes of Object.values(pictures)) {
    // ISO/IEC 15948, § 5.2 and 11.2.2: the signature, then width and height.
    expect([...bytes.slice(0, 8)]).toEqual([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
    const header = new DataView(bytes.buffer, bytes.byteOffset + 16, 8);
    expect([header.getUint32(0), header.getUint32(4)]).toEqual([640, 360]);
  }
  expect(Buffer.compare(pictures[names[0]], pictures[names[2]])).not.toBe(0);
  await expect(dialog).toBeHidden();

  await page.keyboard.press("Control+e");
  await dialog.getByRole("radio", { name: /Values/ }).check();
  await dialog.getByRole("switch", { name: "Many frames" }).click();
  await typeNumber(page, "To frame", "3");
  const values = Object.values(await take()).map((bytes) => new TextDecoder().decode(bytes));
  expect(values).toHaveLength(4);
  for (const text of values) expect(text.split("\r\n")[0]).toContain("position");

  await page.keyboard.press("Control+e");
  await typeNumber(page, "Width in pixels", "640");
  await dialog.getByRole("switch", { name: "Many frames" }).click();
  const [half] = await Promise.all([
    page.waitForEvent("download", { timeout: 100_000 }),
    (async () => {
      await dialog.getByRole("button", { name: "Take away" }).click();
      await expect(dialog.getByText(/^[1-9]\d* of \d+,/)).toBeVisible();
      await dialog.getByRole("button", { name: "Stop" }).click();
    })(),
  ]);
  await expect(dialog.getByRole("alert")).toContainText(/Stopped after \d+ of \d+ frames/);
  const kept = Object.keys(unzipSync(new Uint8Array(readFileSync(await half.path()))));
  expect(kept.length).toBeGreaterThan(0);
  expect(kept.length).toBeLessThan(100);
});

test("a delivery that a reload cut off goes on where it was; files go into a folder; one GLB moves", async ({
  page,
}) => {
  test.slow();
  // The browser's own private folder stands for one that is chosen: no window can be clicked here.
  await page.addInitScript("window.showDirectoryPicker = () => navigator.storage.getDirectory()");
  await ringPiece(page);
  const dialog = takeAwayOf(page);
  await page.keyboard.press("Control+e");
  await dialog.getByRole("switch", { name: "Many frames" }).click();
  await typeNumber(page, "Width in pixels", "640");
  await typeNumber(page, "To frame", "24");
  await dialog.getByRole("button", { name: "Take away" }).click();
  await expect(dialog.getByText(/^([3-9]|1\d) of 25,/)).toBeVisible();
  await page.reload();
  await page.getByRole("button", { name: "1 left over" }).click();
  await expect(dialog.getByRole("alert")).toContainText(/The page was closed after \d+ of 25 frames/);
  const files = Object.keys(unzipSync(await taken(page, "Go on")));
  expect(files).toHaveLength(25);
  expect(files[24]).toMatch(/-0024\.png$/);
  await expect(dialog.getByRole("list", { name: "Deliveries" })).toBeHidden();

  await dialog.getByRole("radio", { name: /Values/ }).check();
  await dialog.getByRole("switch", { name: "Many frames" }).click();
  await dialog.getByRole("switch", { name: "Into a folder" }).click();
  await typeNumber(page, "To frame", "2");
  await dialog.getByRole("button", { name: "Take away" }).click();
  await expect(dialog).toBeHidden();
  const written = await page.evaluate(async () => {
    const folder = await navigator.storage.getDirectory();
    const found: [string, number][] = [];
    for (const name of ["0000", "0001", "0002"].map((n) => `ring-of-something-${n}.csv`))
      found.push([name, (await (await folder.getFileHandle(name)).getFile()).size]);
    return found;
  });
  for (const [name, size] of written) expect(size, name).toBeGreaterThan(100);

  await page.keyboard.press("Control+e");
  await dialog.getByRole("radio", { name: /3D file/ }).check();
  await dialog.getByRole("combobox", { name: "Copies" }).click();
  await page.getByRole("option", { name: /moving/ }).click();
  await typeNumber(page, "To frame", "9");
  const { issues, info } = await validateBytes(await taken(page, "Take away"));
  expect([issues.numErrors, info.animationCount]).toEqual([0, 1]);
});
