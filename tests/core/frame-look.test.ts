/** Pictures that are taken away: sizes, moments, light that is mixed, times of GIFs. */
import fc from "fast-check";
import { momentOfLooks, momentsOf, mostPixels, plainLook, sized } from "../../src/studio/export/frame-look";
import { gifDelay, gifFrames, gifRate } from "../../src/studio/export/gif-timing";
import { inWhole, tilesOf } from "../../src/studio/stage/picture-part";

const LOOK = plainLook([1920, 1080]);
const MOST = mostPixels("mp4");

describe("sizes", () => {
  it("keep the shape, are even and no longer than 4K on any side", () => {
    expect(sized(LOOK, 1280, [1920, 1080], MOST)).toMatchObject({ width: 1280, height: 720 });
    expect(sized(LOOK, 99_999, [1920, 1080], MOST)).toMatchObject({ width: 3840, height: 2160 });
    fc.assert(
      fc.property(
        fc.integer({ min: 16, max: 9000 }),
        fc.integer({ min: 50, max: 4000 }),
        fc.integer({ min: 50, max: 4000 }),
        (width, w, h) => {
          const look = sized(LOOK, width, [w, h], MOST);
          expect([look.width % 2, look.height % 2]).toEqual([0, 0]);
          expect(Math.max(look.width, look.height)).toBeLessThanOrEqual(MOST);
          expect(Math.abs(look.height - Math.max(2, (look.width * h) / w))).toBeLessThan(1.01 + h / w);
        },
      ),
    );
  });
});

describe("tiles", () => {
  it("cover a picture of 8K once, and see no further than its edges", () => {
    expect(tilesOf(3840, 2160)).toBeNull();
    const [width, height] = [mostPixels("png"), 4320];
    const tiles = tilesOf(width, height) ?? [];
    // What they cover, by rows: every row of tiles is as wide as the picture, all rows are as high.
    expect(tiles.reduce((sum, tile) => sum + tile.width * tile.height, 0)).toBe(width * height);
    for (const { x, y, width: w, height: h, drawn } of tiles) {
      expect([drawn.x <= x, drawn.y <= y]).toEqual([true, true]);
      expect(drawn.x + drawn.width).toBeGreaterThanOrEqual(x + w);
      expect(drawn.y + drawn.height).toBeGreaterThanOrEqual(y + h);
      expect([drawn.x + drawn.width <= width, drawn.y + drawn.height <= height]).toEqual([true, true]);
    }
    const [a, b, wide, high] = inWhole(tiles[0].drawn);
    expect([a, b + high, wide * width, high * height]).toEqual([
      0,
      1,
      tiles[0].drawn.width,
      tiles[0].drawn.height,
    ]);
  });
});

describe("moments of a frame", () => {
  it("fill the time that the shutter is open, around the frame", () => {
    const frames = (frame: number, look: Partial<typeof LOOK> = {}) =>
      momentsOf(frame, { ...LOOK, ...look }, 25).map((moment) => moment.frame);
    expect(frames(7)).toEqual([7]);
    // At 180° it is open for half of a frame (common practice, no source).
    expect(frames(7, { samples: 2 })).toEqual([6.875, 7.125]);
    const many = frames(0, { samples: 64, shutter: 360 });
    expect(many[0]).toBeCloseTo(-0.5, 1);
    expect(many.reduce((a, b) => a + b, 0)).toBeCloseTo(0, 9);
    // By velocities it is the frame itself, up to a quarter of a 25th of a second before and after.
    const drifts = momentsOf(7, { ...LOOK, samples: 2, blur: "velocities" }, 25);
    expect(drifts).toEqual([-0.125, 0.125].map((part) => ({ frame: 7, drift: part / 25 })));
  });
});

describe("looks at moments", () => {
  it("are shared out evenly, in the order of the moments, one each at least", () => {
    expect(momentOfLooks(1, 1)).toEqual([0]);
    expect(momentOfLooks(2, 6)).toEqual([0, 0, 0, 1, 1, 1]);
    expect(momentOfLooks(8, 1)).toEqual([0, 1, 2, 3, 4, 5, 6, 7]);
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 64 }), fc.integer({ min: 1, max: 256 }), (moments, looks) => {
        const of = momentOfLooks(moments, looks);
        const counts = Array.from({ length: moments }, (_, m) => of.filter((one) => one === m).length);
        expect(Math.max(...counts) - Math.min(...counts)).toBeLessThanOrEqual(1);
        expect([...of].sort((a, b) => a - b)).toEqual(of);
      }),
    );
  });
});

describe("times of a GIF", () => {
  it("are hundredths of a second that add up to the whole", () => {
    expect([0, 1, 2].map((i) => gifDelay(i, 25))).toEqual([40, 40, 40]);
    for (const rate of [12, 23.976, 24, 29.97, 30, 50]) {
      const frames = Math.round(rate * 4);
      const sum = Array.from({ length: frames }, (_, i) => gifDelay(i, rate)).reduce((a, b) => a + b, 0);
      expect(Math.abs(sum - (frames * 1000) / rate)).toBeLessThanOrEqual(5);
    }
  });

  it.each([51, 59.94, 60, 100, 120, 240])(
    "leave out frames at %d a second, so that the length is true",
    (rate) => {
      for (const count of [1, 2, 7, 600]) {
        const kept = gifFrames(
          Array.from({ length: count }, (_, i) => i),
          rate,
        );
        const shown = kept.map((_, i) => gifDelay(i, gifRate(rate)));
        expect(Math.min(...shown)).toBeGreaterThanOrEqual(20);
        const length = shown.reduce((a, b) => a + b, 0);
        // No further off than one frame of the GIF.
        expect(Math.abs(length - (count * 1000) / rate)).toBeLessThan(20);
        // Each is shown within a fiftieth of a second of its own time.
        kept.forEach((frame, i) => {
          expect(Math.abs((frame * 1000) / rate - i * 20)).toBeLessThan(20);
        });
      }
      expect(gifFrames([1, 2, 3], 50)).toEqual([1, 2, 3]);
    },
  );
});
