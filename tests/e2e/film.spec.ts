/** Films: read again with mediabunny, and shown again by the browser; GIF by its specification. */
import { readFileSync } from "node:fs";
import { ALL_FORMATS, BufferSource, Input } from "mediabunny";
import { PNG } from "pngjs";
import { ringPiece, takeAwayOf, taken, typeNumber } from "./helpers";
import { expect, type Page, test } from "./own-studio";

async function chooseFilm(page: Page, kind: RegExp, last: string) {
  await page.keyboard.press("Control+e");
  await takeAwayOf(page).getByRole("radio", { name: /Film/ }).check();
  await page.getByRole("combobox", { name: "Kind of film" }).click();
  await page.getByRole("option", { name: kind }).click();
  await typeNumber(page, "Width in pixels", "192");
  await typeNumber(page, "To frame", last);
}

async function readAgain(bytes: Buffer) {
  const input = new Input({ formats: ALL_FORMATS, source: new BufferSource(new Uint8Array(bytes)) });
  const track = await input.getPrimaryVideoTrack();
  if (!track) throw new Error("There is no picture in the film.");
  const { packetCount, averagePacketRate } = await track.computePacketStats();
  return {
    codec: track.codec,
    size: [track.displayWidth, track.displayHeight],
    frames: packetCount,
    rate: averagePacketRate,
    seconds: await input.computeDuration(),
  };
}

/** A pixel of a film as the browser shows it, on a page that may load any film. */
async function shown(beside: Page, bytes: Buffer, type: string, [x, y]: readonly [number, number]) {
  const page = await beside.context().newPage();
  const color = await page.evaluate(
    async ([data, kind, px, py]) => {
      const video = document.createElement("video");
      video.muted = true;
      video.src = `data:${kind};base64,${data}`;
      await new Promise((done, fail) => {
        video.onloadeddata = done;
        video.onerror = () => fail(new Error(video.error?.message));
      });
      // A busy browser has come to the place before it has the picture of it.
      await new Promise<unknown>((done) => {
        video.requestVideoFrameCallback(done);
        video.currentTime = 0.1;
      });
      const canvas = document.createElement("canvas");
      [canvas.width, canvas.height] = [video.videoWidth, video.videoHeight];
      const context = canvas.getContext("2d");
      context?.drawImage(video, 0, 0);
      return [...(context?.getImageData(px, py, 1, 1).data ?? [])];
    },
    [bytes.toString("base64"), type, x, y] as const,
  );
  await page.close();
  return color;
}

test("two seconds leave as WebM and as MP4 with the frames, the rate, the size and the colours they should have", async ({
  page,
}) => {
  test.slow();
  await ringPiece(page);
  // The ground's own colour, in a corner where nothing stands: #14201b.
  const ground = [0x14, 0x20, 0x1b];
  for (const [kind, last, codec, type] of [
    [/WebM/, "49", "vp9", "video/webm"],
    [/MP4/, "59", "avc", "video/mp4"],
  ] as const) {
    await chooseFilm(page, kind, last);
    const bytes = await taken(page);
    const count = Number(last) + 1;
    const { rate, seconds, ...found } = await readAgain(bytes);
    expect(found).toEqual({ codec, size: [192, 108], frames: count });
    expect(rate).toBeCloseTo(25, 1);
    expect(seconds).toBeCloseTo(count / 25, 1);
    const color = await shown(page, bytes, type, [4, 4]);
    for (const [i, c] of ground.entries())
      expect(Math.abs(c - color[i]), `${color} instead of ${ground}`).toBeLessThan(10);
    expect(color[3]).toBe(255);
    await expect(takeAwayOf(page)).toBeHidden();
  }
  // VP9 keeps a clear ground, and the browser shows through it.
  await chooseFilm(page, /WebM/, "3");
  await takeAwayOf(page).getByRole("switch", { name: "Transparent ground" }).click();
  const clear = await taken(page);
  expect((await shown(page, clear, "video/webm", [4, 4]))[3]).toBeLessThan(10);
});

/** Frames and hundredths of a second of a GIF (GIF89a, sections 20 to 23: blocks by their introducers). */
function readGif(bytes: Buffer) {
  const delays: number[] = [];
  let frames = 0;
  let at = 13 + (bytes[10] & 0x80 ? 3 * 2 ** ((bytes[10] & 7) + 1) : 0);
  const skipBlocks = () => {
    while (bytes[at] !== 0) at += bytes[at] + 1;
    at++;
  };
  while (bytes[at] !== 0x3b) {
    if (bytes[at] === 0x21) {
      if (bytes[at + 1] === 0xf9) delays.push(bytes.readUInt16LE(at + 4));
      at += 2;
      skipBlocks();
    } else if (bytes[at] === 0x2c) {
      frames++;
      at += 10 + (bytes[at + 9] & 0x80 ? 3 * 2 ** ((bytes[at + 9] & 7) + 1) : 0) + 1;
      skipBlocks();
    } else throw new Error(`Byte ${at} begins no block.`);
  }
  return {
    head: bytes.toString("latin1", 0, 6),
    size: [bytes.readUInt16LE(6), bytes.readUInt16LE(8)],
    frames,
    delays,
  };
}

test("a film that a reload cut off goes on with the stretches that were made", async ({ page }) => {
  test.slow();
  await ringPiece(page);
  for (const [kind, codec] of [
    [/WebM/, "vp9"],
    [/GIF/, null],
  ] as const) {
    await chooseFilm(page, kind, "69");
    await takeAwayOf(page).getByRole("button", { name: "Take away" }).click();
    // The first stretch has 48 frames.
    await expect(takeAwayOf(page).getByText(/^(49|5\d|6\d) of 70,/)).toBeVisible({ timeout: 60_000 });
    await page.reload();
    await page.getByRole("button", { name: "1 left over" }).click();
    const [file] = await Promise.all([
      page.waitForEvent("download", { timeout: 100_000 }),
      takeAwayOf(page).getByRole("button", { name: "Go on" }).click(),
    ]);
    const bytes = readFileSync(await file.path());
    if (codec) {
      const { rate, seconds, ...found } = await readAgain(bytes);
      expect(found).toEqual({ codec, size: [192, 108], frames: 70 });
      expect([rate, seconds]).toEqual([expect.closeTo(25, 1), expect.closeTo(2.8, 2)]);
    } else expect(readGif(bytes)).toMatchObject({ frames: 70, delays: new Array(70).fill(4) });
    await expect(takeAwayOf(page).getByRole("list", { name: "Deliveries" })).toBeHidden();
    await page.keyboard.press("Escape");
  }
});

test("a GIF lasts as long as it should, a picture may be clear and mixed, and a film that is stopped ends there", async ({
  page,
}) => {
  test.slow();
  await ringPiece(page);
  await chooseFilm(page, /GIF/, "7");
  const gif = readGif(await taken(page));
  expect(gif).toEqual({ head: "GIF89a", size: [192, 108], frames: 8, delays: new Array(8).fill(4) });
  await expect(takeAwayOf(page)).toBeHidden();

  await page.keyboard.press("Control+e");
  await typeNumber(page, "Width in pixels", "192");
  await typeNumber(page, "Moments mixed in a frame", "4");
  await takeAwayOf(page).getByRole("switch", { name: "Transparent ground" }).click();
  const png = PNG.sync.read(await taken(page));
  expect([png.width, png.height]).toEqual([192, 108]);
  const alphas = Array.from({ length: 192 * 108 }, (_, i) => png.data[i * 4 + 3]);
  expect(alphas[5 * 192 + 5]).toBe(0);
  expect(Math.max(...alphas)).toBe(255);

  await chooseFilm(page, /WebM/, "99");
  const [half] = await Promise.all([
    page.waitForEvent("download", { timeout: 150_000 }),
    (async () => {
      await takeAwayOf(page).getByRole("button", { name: "Take away" }).click();
      await expect(takeAwayOf(page).getByText(/^[2-9]\d* of \d+,/)).toBeVisible();
      await takeAwayOf(page).getByRole("button", { name: "Stop" }).click();
    })(),
  ]);
  await expect(takeAwayOf(page).getByRole("alert")).toContainText(/Stopped after \d+ of 100 frames/);
  const kept = await readAgain(readFileSync(await half.path()));
  expect(kept.frames).toBeGreaterThan(1);
  expect(kept.frames).toBeLessThan(100);
});
