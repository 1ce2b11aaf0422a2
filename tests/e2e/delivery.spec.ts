/** Many frames taken away as one .zip: pictures, values, and what is done when it is stopped half-way. */
import { readFileSync } from "node:fs";
import { expect, test } from "@playwright/test";
import { unzipSync } from "fflate";
import { newPiece, typeNumber } from "./helpers";

test("a range of frames leaves as one file, and what was done when it is stopped is kept", async ({
  page,
}) => {
  test.slow();
  await newPiece(page, /Ring of something/);
  const dialog = page.getByRole("dialog", { name: "Take away" });
  const take = async () => {
    const [file] = await Promise.all([
      page.waitForEvent("download", { timeout: 100_000 }),
      dialog.getByRole("button", { name: "Take away" }).click(),
    ]);
    return unzipSync(new Uint8Array(readFileSync(await file.path())));
  };
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
