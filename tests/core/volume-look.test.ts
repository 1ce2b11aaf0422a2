/** How smoke is seen: its colours, and the light that comes through it (Beer and Lambert: intensity falls by e to the power of what is passed). */
import { drawingOf } from "../../src/core/draw/drawing";
import { volumeDrawing } from "../../src/core/draw/volume-drawing";
import type { Shape } from "../../src/core/geometry/shape";
import { eachVoxel, type Volume } from "../../src/core/geometry/volume";
import { USUAL_VOLUME_LOOK, type VolumeLook } from "../../src/core/geometry/volume-look";
import { fullVolume, volumeOfValues } from "../../src/core/volumes/from-values";
import { formed } from "../formed";

const VOXEL = 0.5;
/** Density 2 in a box of 24 × 16 × 24 voxels. */
const slab = (look: Partial<VolumeLook> = {}): Volume => {
  const full = fullVolume({ min: [-5.5, -3.5, -5.5], max: [5.5, 3.5, 5.5] }, VOXEL);
  const values = new Float32Array(full.voxels.count).fill(2);
  return { ...volumeOfValues(full, values, null), look: { ...USUAL_VOLUME_LOOK, ...look } };
};
const ONE = Float32Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1);

describe("light in smoke", () => {
  it("falls evenly with what it has passed, along the way that it comes", () => {
    const drawn = volumeDrawing(slab({ thick: 0.3, shade: 0.5 }), ONE);
    if (!drawn) throw new Error("nothing is drawn");
    const [nx, ny, nz] = drawn.size;
    // From a corner that all light reaches through the top: x and z low, as it comes from where they are high.
    const at = (j: number) => drawn.cells[((2 * ny + j) * nx + 2) * 4 + 2] / 255;
    // A layer lower the ray is √(0.62² + 1 + 0.5²) voxels longer.
    const layer = Math.exp(-0.3 * 0.5 * 2 * VOXEL * Math.hypot(0.62, 1, 0.5));
    for (let j = ny - 4; j > ny - 9; j--) expect(at(j - 1) / at(j)).toBeCloseTo(layer, 1.5);
    expect(nz).toBe(drawn.size[2]);
  });

  it("is whole where nothing is in the way, and where there is no shade", () => {
    const bright = volumeDrawing(slab({ shade: 0 }), ONE);
    expect(bright?.cells.filter((_, i) => i % 4 === 2).every((v) => v === 255)).toBe(true);
  });

  it("stands where the volume is, with its densities as parts of the most", () => {
    const drawn = volumeDrawing(slab(), ONE);
    expect(drawn?.mostDensity).toBe(2);
    const sizes = [0, 1, 2].map((a) => ((drawn?.max[a] ?? 0) - (drawn?.min[a] ?? 0)) / VOXEL);
    expect(sizes).toEqual(drawn?.size);
    const middle = drawn ? ((12 * drawn.size[1] + 8) * drawn.size[0] + 12) * 4 : 0;
    expect(drawn?.cells[middle]).toBe(255);
    expect(volumeDrawing({ ...slab(), voxels: { count: 0, columns: {} } }, ONE)).toBeNull();
  });
});

it("is drawn, and stood on, as far as there is anything to be seen", () => {
  const full = fullVolume({ min: [-5.5, -3.5, -5.5], max: [5.5, 3.5, 5.5] }, VOXEL);
  const values = new Float32Array(full.voxels.count);
  eachVoxel(full, (at, x, y, z) => {
    // Half a voxel of room for how the middles of voxels are rounded; and what is too thin to be seen everywhere else.
    values[at] = Math.abs(x) < 1.1 && y > 0.9 && y < 2.1 && Math.abs(z) < 0.6 ? 2 : 0.001;
  });
  const volume = volumeOfValues(full, values, null);
  const drawn = volumeDrawing(volume, ONE);
  // Five, three and three voxels, and one around them.
  expect(drawn?.size).toEqual([7, 5, 5]);
  expect(drawn?.min).toEqual([-1.75, 0.25, -1.25]);
  expect(drawingOf({ volume }).bounds).toMatchObject({ min: [-1.75, 0.25, -1.25], max: [1.75, 2.75, 1.25] });
  expect(volumeDrawing(volumeOfValues(full, new Float32Array(values.length), null), ONE)).toBeNull();
});

describe("the look", () => {
  const volume: Shape = formed(
    {
      field: { type: "volume-from-field", set: { what: "density", value: 1, voxel: 0.5 } },
      it: {
        type: "volume-look",
        set: {
          by: "heat",
          thick: 3,
          colors: {
            space: "linear",
            stops: [
              { at: 0, color: "#000000" },
              { at: 1, color: "#ff0000" },
            ],
          },
        },
      },
    },
    ["field.shape>it.shape"],
  );

  it("is what the node says, its colours linear", () => {
    const look = volume.volume?.look as VolumeLook;
    expect([look.by, look.thick]).toEqual(["heat", 3]);
    expect([...look.colors.slice(0, 3)]).toEqual([0, 0, 0]);
    expect([...look.colors.slice(-3)]).toEqual([1, 0, 0]);
  });

  it("goes with the volume into the drawing, once for each copy", () => {
    const { volumes, batches, bounds } = drawingOf(volume);
    expect([volumes.length, volumes[0].matrices.length, batches.length]).toEqual([1, 16, 0]);
    expect(bounds?.max[0]).toBeGreaterThan(0.9);
  });
});
