/** Where a graph is looked at when it is opened; common practice, no source. */
import fc from "fast-check";
import { type Box, openingView, seesAny, type View } from "../../src/studio/graph/opening-view";

const PANE = { width: 500, height: 700 };

const onScreen = (box: Box, { x, y, zoom }: View): Box => ({
  x: box.x * zoom + x,
  y: box.y * zoom + y,
  width: box.width * zoom,
  height: box.height * zoom,
});

const within = (inner: Box, outer: Pick<Box, "width" | "height">): boolean =>
  inner.x >= -1e-6 &&
  inner.y >= -1e-6 &&
  inner.x + inner.width <= outer.width + 1e-6 &&
  inner.y + inner.height <= outer.height + 1e-6;

describe("the view that a graph opens with", () => {
  it("shows all in the middle when that can be read, no larger than cards should be", () => {
    const all = { x: -100, y: 40, width: 600, height: 300 };
    const view = openingView(all, { x: 400, y: 40, width: 100, height: 100 }, PANE);
    const seen = onScreen(all, view);
    expect(within(seen, PANE)).toBe(true);
    expect(seen.x + seen.width / 2).toBeCloseTo(250, 6);
    expect(seen.y + seen.height / 2).toBeCloseTo(350, 6);
    const one = { x: 0, y: 0, width: 200, height: 100 };
    expect(openingView(one, one, PANE).zoom).toBe(1);
  });

  it("shows the end of what is too large, and nothing beyond it but a margin", () => {
    const size = fc.integer({ min: 2600, max: 9000 });
    const part = fc.double({ min: 0, max: 1, noNaN: true });
    const at = fc.integer({ min: -5000, max: 5000 });
    fc.assert(
      fc.property(size, size, at, at, part, part, (width, height, x, y, right, down) => {
        const all = { x, y, width, height };
        const end = { x: x + right * (width - 224), y: y + down * (height - 200), width: 224, height: 200 };
        const view = openingView(all, end, PANE);
        expect(view.zoom).toBeGreaterThanOrEqual(0.28);
        expect(within(onScreen(end, view), PANE)).toBe(true);
        const seen = onScreen(all, view);
        expect(seen.x).toBeLessThanOrEqual(0.03 * PANE.width + 1e-6);
        expect(seen.x + seen.width).toBeGreaterThanOrEqual(0.97 * PANE.width - 1e-6);
        expect(seen.y).toBeLessThanOrEqual(0.03 * PANE.height + 1e-6);
        expect(seen.y + seen.height).toBeGreaterThanOrEqual(0.97 * PANE.height - 1e-6);
      }),
    );
  });

  it("knows a view that has lost all cards", () => {
    const cards = [{ x: 0, y: 0, width: 200, height: 100 }];
    expect(seesAny({ x: 0, y: 0, zoom: 1 }, cards, PANE)).toBe(true);
    expect(seesAny({ x: -199, y: 0, zoom: 1 }, cards, PANE)).toBe(true);
    expect(seesAny({ x: -201, y: 0, zoom: 1 }, cards, PANE)).toBe(false);
    expect(seesAny({ x: 0, y: 701, zoom: 1 }, cards, PANE)).toBe(false);
    expect(seesAny({ x: 0, y: 0, zoom: 1 }, [], PANE)).toBe(false);
  });
});
