/** Volumes against closed forms: distances [Hart96], smooth minimum [Ricci73], surfaces of distance fields [Gibson98], trilinear weights. */
import { eulerCharacteristic, isClosed, meshVolume } from "../../src/core/geometry/measure";
import { type Mesh, makeMesh } from "../../src/core/geometry/mesh";
import { boxMesh, cylinderMesh, sphereMesh, torusMesh } from "../../src/core/geometry/primitives";
import { validateShape } from "../../src/core/geometry/validate";
import { levelLane, type Volume, VolumeReader, voxelPlaces } from "../../src/core/geometry/volume";
import { hash3, unit24 } from "../../src/core/maths/random";
import { combine } from "../../src/core/volumes/combine";
import { volumeOfBalls } from "../../src/core/volumes/from-balls";
import { volumeOfMesh } from "../../src/core/volumes/from-mesh";
import { fullVolume, volumeOfValues } from "../../src/core/volumes/from-values";
import { blendedVolumes, movedVolume } from "../../src/core/volumes/moved";
import { resampledTo } from "../../src/core/volumes/resample";
import {
  asDensity,
  filled,
  grown,
  hollowed,
  sharpened,
  smoothed,
  toldTo,
} from "../../src/core/volumes/reshape";
import { withSharpEdges } from "../../src/core/volumes/sharp-edges";
import { blocksOf, surfaceOf } from "../../src/core/volumes/surface-nets";
import { TooFine } from "../../src/core/volumes/tiles";

const chance = (i: number, c: number): number => unit24(hash3(7, i, c)) * 2 - 1;
const meshOfVolume = (volume: Volume): Mesh => {
  expect(validateShape({ volume })).toEqual([]);
  const mesh = surfaceOf(volume, { level: 0 });
  if (!mesh) throw new Error("no surface");
  return mesh;
};
const ofMesh = (mesh: Mesh, voxel: number, band = 3 * voxel): Volume => {
  const made = volumeOfMesh(mesh, { voxel, band, thickness: null });
  if (!made) throw new Error("no volume");
  expect(made.isOpen).toBe(false);
  return made.volume;
};
const ball = (voxel: number, radius = 1, x = 0, band = 3 * voxel): Volume =>
  volumeOfBalls({ places: [[x], [0], [0]], radii: [radius] }, voxel, band) as Volume;

/** GEO-07 to GEO-09: below 0 inside. */
const toSphere = (r: number) => (p: number[]) => Math.hypot(...p) - r;
const toBox = (half: number[]) => (p: number[]) => {
  const q = p.map((v, a) => Math.abs(v) - half[a]);
  return Math.hypot(...q.map((v) => Math.max(v, 0))) + Math.min(Math.max(...q), 0);
};
const toTorus = (ring: number, tube: number) => (p: number[]) =>
  Math.hypot(Math.hypot(p[0], p[2]) - ring, p[1]) - tube;

describe("distances", () => {
  it.each([
    ["a box", boxMesh([2, 4, 1.4], 1), toBox([1, 2, 0.7]), 1e-5],
    // Both are of flat faces: inside of the true surface by r (1 − cos(π ÷ n)).
    ["a ball", sphereMesh(1, 128, 64), toSphere(1), 2e-3],
    ["a torus", torusMesh(1, 0.4, 128, 64), toTorus(1, 0.4), 2e-3],
  ] as const)("of every voxel in the band around %s are those in closed form", (_, mesh, wanted, near) => {
    const volume = ofMesh(mesh, 0.11, 0.4);
    const [xs, ys, zs] = voxelPlaces(volume);
    const told = levelLane(volume);
    let worst = 0;
    for (let i = 0; i < told.length; i++) {
      const d = wanted([xs[i], ys[i], zs[i]]);
      // Farther away than two voxels and a half it is passed on from voxel to voxel: within a twentieth of a voxel.
      const allowed = Math.abs(d) < 2.4 * volume.voxel ? near : Math.max(near, volume.voxel / 20);
      worst = Math.max(worst, Math.abs(told[i] - Math.max(-volume.band, Math.min(volume.band, d))) / allowed);
    }
    expect(worst).toBeLessThan(1);
  });

  it("are told on both sides, and tiles that do not stand know their side", () => {
    const volume = ofMesh(boxMesh([3, 3, 3], 1), 0.05);
    const reader = new VolumeReader(volume, "distance");
    expect(reader.at(0, 0, 0)).toBeCloseTo(-volume.band, 6);
    expect(reader.at(9, 0, 0)).toBeCloseTo(volume.band, 6);
    expect(reader.at(1.5, 0.2, 0.1)).toBeCloseTo(0, 5);
    expect(reader.at(1.42, 0.2, 0.1)).toBeCloseTo(-0.08, 5);
  });

  it("around a ball take less than 0.15 of all voxels at 256³", () => {
    expect(ball(2.2 / 256, 1, 0, 0).voxels.count).toBeLessThan(0.15 * 256 ** 3);
  });

  it("do not leak through a small hole", () => {
    const whole = sphereMesh(1, 48, 24);
    // Without its faces around one place.
    const kept: number[] = [];
    const starts = [0];
    const [x] = whole.points.columns.position.lanes;
    for (let f = 0; f < whole.faces.count; f++) {
      const corners = [...whole.cornerPoint.subarray(whole.faceStarts[f], whole.faceStarts[f + 1])];
      if (corners.every((p) => x[p] > 0.97)) continue;
      kept.push(...corners);
      starts.push(kept.length);
    }
    const open = makeMesh({
      position: whole.points.columns.position.lanes as [Float32Array, Float32Array, Float32Array],
      faceStarts: Int32Array.from(starts),
      cornerPoint: Int32Array.from(kept),
    });
    const made = volumeOfMesh(open, { voxel: 0.08, band: 0.2, thickness: null });
    expect(made?.isOpen).toBe(true);
    const reader = new VolumeReader(made?.volume as Volume, "distance");
    expect(reader.at(-0.9, 0, 0)).toBeLessThan(0);
    expect(reader.at(0.8, 0, 0)).toBeLessThan(0);
    expect(reader.at(-1.2, 0, 0)).toBeGreaterThan(0);
    expect(reader.at(1.3, 0, 0)).toBeGreaterThan(0);
  });

  it("of a tube without ends are those of a rod", () => {
    const made = volumeOfMesh(cylinderMesh(0.5, 3, 48, 1, false), { voxel: 0.1, band: 0.2, thickness: null });
    const reader = new VolumeReader(made?.volume as Volume, "distance");
    expect([reader.at(0, 0.3, 0) < 0, reader.at(0.7, 0, 0) > 0, reader.at(0, 1.7, 0) > 0]).toEqual([
      true,
      true,
      true,
    ]);
  });

  it("of a sheet are those of a slab so thick, open or not", () => {
    const plane = makeMesh({
      position: [Float32Array.of(-1, 1, 1, -1), new Float32Array(4), Float32Array.of(-1, -1, 1, 1)],
      faceStarts: Int32Array.of(0, 4),
      cornerPoint: Int32Array.of(0, 3, 2, 1),
    });
    const made = volumeOfMesh(plane, { voxel: 0.1, band: 0.3, thickness: 0.3 });
    const reader = new VolumeReader(made?.volume as Volume, "distance");
    for (const y of [-0.4, -0.2, 0, 0.1, 0.35])
      expect(reader.at(0.2, y, 0.1)).toBeCloseTo(Math.abs(y) - 0.15, 5);
  });

  it("of balls and of what joins them are in closed form", () => {
    const volume = volumeOfBalls(
      {
        places: [
          [0, 2],
          [0, 0],
          [0, 0],
        ],
        radii: [0.5, 0.5],
        links: [0, 1],
      },
      0.1,
      0.3,
    ) as Volume;
    const reader = new VolumeReader(volume, "distance");
    // A capsule: 0.5 from the segment.
    for (const [x, y, z] of [
      [1, 0.6, 0],
      [-0.4, 0.1, 0.2],
      [2.3, 0.4, 0.1],
    ])
      expect(reader.at(x, y, z)).toBeCloseTo(Math.hypot(x < 0 ? x : x > 2 ? x - 2 : 0, y, z) - 0.5, 2);
  });
});

describe("reading between voxels", () => {
  // GEO-13: 4i + 2j + k, but 9 at (1, 1, 1).
  it("is by trilinear weights", () => {
    const full = fullVolume({ min: [0, 0, 0], max: [7, 7, 7] }, 1);
    const [xs, ys, zs] = voxelPlaces(full);
    const values = Float32Array.from(xs, (x, i) => (x * ys[i] * zs[i] === 1 ? 9 : 4 * x + 2 * ys[i] + zs[i]));
    const reader = new VolumeReader(volumeOfValues(full, values, null), "density");
    expect(reader.at(0.25, 0.5, 0.75)).toBeCloseTo(2.9375, 6);
    expect(reader.at(0.5, 0.5, 0.5)).toBeCloseTo(3.75, 6);
  });

  it("is the same on another lattice, as nearly as that is fine", () => {
    const fine = ball(0.05);
    const coarse = new VolumeReader(resampledTo(fine, 0.08), "distance");
    const reader = new VolumeReader(fine, "distance");
    for (let i = 0; i < 200; i++) {
      const [u, v, w] = [chance(i, 1), chance(i, 2), chance(i, 3)];
      const scale = (0.97 + 0.04 * chance(i, 4)) / Math.hypot(u, v, w);
      const at = [u * scale, v * scale, w * scale] as const;
      expect(Math.abs(coarse.at(...at) - reader.at(...at))).toBeLessThan(0.005);
    }
  });
});

describe("the surface", () => {
  // GEO-15: closed, χ = 2; errors of the volume fall to a quarter with each half of the voxel, |V ÷ V₀ − 1| ≤ 1.4 h².
  it("of a ball encloses what it should, the better the smaller its voxels are", () => {
    const errors = [0.26, 0.13, 0.065].map((h) => {
      const mesh = meshOfVolume(ball(h));
      expect([isClosed(mesh), eulerCharacteristic(mesh)]).toEqual([true, 2]);
      const error = Math.abs(meshVolume(mesh) / ((4 / 3) * Math.PI) - 1);
      expect(error).toBeLessThan(1.4 * h * h);
      return error;
    });
    expect(errors[0] / errors[1]).toBeGreaterThan(3);
    expect(errors[1] / errors[2]).toBeGreaterThan(3.3);
    expect(errors[1] / errors[2]).toBeLessThan(4.7);
  });

  it("of a torus has its hole", () => {
    const mesh = meshOfVolume(ofMesh(torusMesh(1, 0.4, 48, 24), 0.07));
    expect([isClosed(mesh), eulerCharacteristic(mesh)]).toEqual([true, 0]);
    expect(meshVolume(mesh) / (2 * Math.PI ** 2 * 0.16)).toBeCloseTo(1, 1);
  });

  it("keeps edges and corners sharp when asked to", () => {
    // Sides between voxels, so that the net has to round them off.
    const volume = ofMesh(boxMesh([1.87, 1.87, 1.87], 1), 0.1, 0.3);
    const [round, sharp] = [meshOfVolume(volume), withSharpEdges(meshOfVolume(volume), volume, 0)];
    const corner = (mesh: Mesh): number => {
      const [x, y, z] = mesh.points.columns.position.lanes;
      return Math.min(...Array.from(x, (v, i) => Math.hypot(v - 0.935, y[i] - 0.935, z[i] - 0.935)));
    };
    expect(corner(round)).toBeGreaterThan(0.03);
    expect(corner(sharp)).toBeLessThan(corner(round) / 3);
    expect(Math.abs(meshVolume(sharp) - 1.87 ** 3)).toBeLessThan(Math.abs(meshVolume(round) - 1.87 ** 3) / 3);
  });

  it("as blocks has whole voxels, and no walls within", () => {
    const volume = ball(0.25);
    const mesh = blocksOf(volume, { level: 0 }) as Mesh;
    const inside = levelLane(volume).filter((d) => d < 0).length;
    expect(meshVolume(mesh)).toBeCloseTo(inside * 0.25 ** 3, 4);
    expect(isClosed(mesh)).toBe(true);
  });
});

describe("melting together", () => {
  const at = (volume: Volume, x: number) => new VolumeReader(volume, "distance").at(x, 0, 0);
  // GEO-11: a = 0.3, b = 0.5.
  it("takes the lesser, the greater, or the one without the other", () => {
    // On the line between two balls: 0.3 from one, 0.5 from the other.
    const [a, b] = [ball(0.1, 1, 0, 1), ball(0.1, 1, 2.8, 1)];
    expect([at(a, 1.3), at(b, 1.3)]).toEqual([expect.closeTo(0.3, 5), expect.closeTo(0.5, 5)]);
    expect(at(combine("union", a, b, 0), 1.3)).toBeCloseTo(0.3, 5);
    expect(at(combine("intersection", a, b, 0), 1.3)).toBeCloseTo(0.5, 5);
    expect(at(combine("difference", a, b, 0), 1.3)).toBeCloseTo(0.3, 5);
    expect(at(combine("union", a, b, 0.5), 1.3)).toBeCloseTo(0.255, 5);
    // Farther apart than it melts.
    expect(at(combine("union", a, b, 0.15), 1.3)).toBeCloseTo(0.3, 5);
  });

  it("keeps volumes: a union and an intersection together are both", () => {
    const [a, b] = [ball(0.05), ball(0.05, 0.8, 0.9)];
    const volumes = (["union", "intersection", "difference"] as const).map((how) =>
      meshVolume(meshOfVolume(combine(how, a, b, 0))),
    );
    const both = [a, b].map((one) => meshVolume(meshOfVolume(one)));
    expect(volumes[0] + volumes[1]).toBeCloseTo(both[0] + both[1], 1);
    expect(volumes[2] + volumes[1]).toBeCloseTo(both[0], 1);
    // Melted, a union is more than the hard one.
    expect(meshVolume(meshOfVolume(combine("union", a, b, 0.15)))).toBeGreaterThan(volumes[0]);
  });
});

describe("reshaping", () => {
  const even = (volume: Volume, value: number) => new Float32Array(volume.voxels.count).fill(value);

  it("grows and shrinks a ball by its radius", () => {
    const volume = toldTo(ball(0.05), 0.3) as Volume;
    for (const by of [0.12, -0.2]) {
      const mesh = meshOfVolume(grown(volume, even(volume, by)));
      expect(meshVolume(mesh) / ((4 / 3) * Math.PI * (1 + by) ** 3)).toBeCloseTo(1, 1.7);
    }
  });

  it("hollows: what is left is the wall", () => {
    const volume = toldTo(ball(0.05), 0.4) as Volume;
    const mesh = meshOfVolume(hollowed(volume, even(volume, 0.2)));
    // Two balls, one in the other.
    expect(eulerCharacteristic(mesh)).toBe(4);
    expect(meshVolume(mesh) / ((4 / 3) * Math.PI * (1 - 0.8 ** 3))).toBeCloseTo(1, 1.5);
  });

  it("smooths: a box loses its corners and keeps its sides", () => {
    const volume = ofMesh(boxMesh([2, 2, 2], 1), 0.08, 0.3);
    const made = smoothed(volume, 4, even(volume, 1));
    const [before, after] = [volume, made].map((one) => new VolumeReader(one, "distance"));
    expect(after.at(1, 0.1, 0.1)).toBeCloseTo(before.at(1, 0.1, 0.1), 2);
    expect(after.at(0.97, 0.97, 0.97)).toBeGreaterThan(before.at(0.97, 0.97, 0.97) + 0.02);
  });

  it("sharpens: edges stand out more than they did", () => {
    const box = ofMesh(boxMesh([2, 2, 2], 1), 0.08, 0.3);
    const volume = smoothed(box, 3, even(box, 1));
    const made = sharpened(volume, 3, even(volume, 1));
    const [before, after] = [volume, made].map((one) => new VolumeReader(one, "distance"));
    expect(after.at(0.97, 0.97, 0.97)).toBeLessThan(before.at(0.97, 0.97, 0.97) - 0.01);
    expect(after.at(1, 0.1, 0.1)).toBeCloseTo(before.at(1, 0.1, 0.1), 2);
  });

  it("fills what nothing leads out of, and leaves open holes", () => {
    const hollow = hollowed(toldTo(ball(0.05), 0.4) as Volume, even(toldTo(ball(0.05), 0.4) as Volume, 0.2));
    const mesh = meshOfVolume(filled(hollow) as Volume);
    expect(eulerCharacteristic(mesh)).toBe(2);
    expect(meshVolume(mesh) / ((4 / 3) * Math.PI)).toBeCloseTo(1, 1.7);
    const torus = ofMesh(torusMesh(1, 0.4, 48, 24), 0.1);
    expect(filled(torus)).toBe(torus);
  });

  it("is a density of 1 from so deep on", () => {
    const volume = toldTo(ball(0.05), 0.5) as Volume;
    const reader = new VolumeReader(asDensity(volume, even(volume, 0.4)), "density");
    for (const [r, wanted] of [
      [0.4, 1],
      [0.8, 0.5],
      [0.9, 0.25],
      [1.1, 0],
    ])
      expect(reader.at(r, 0, 0)).toBeCloseTo(wanted, 1);
  });

  it("is moved by a field as by a turning of space: nothing of it is lost", () => {
    const box = ofMesh(boxMesh([2, 1, 1], 1), 0.06, 0.2);
    // p stood where a quarter turn back brings it: (x, y) from (y, −x).
    const made = movedVolume(box, ({ columns }) => {
      const [x, y, z] = columns.position.lanes as Float32Array[];
      return [x.map((v, i) => v - y[i]), y.map((v, i) => v + x[i]), z.map(() => 0)];
    });
    const mesh = meshOfVolume(made);
    expect(meshVolume(mesh) / 2).toBeCloseTo(1, 1.3);
    expect([0, 1, 2].map((a) => Math.max(...mesh.points.columns.position.lanes[a]))).toEqual(
      [0.5, 1, 0.5].map((v) => expect.closeTo(v, 1)),
    );
  });

  it("is blended into another: half-way between two balls in one place has the mean radius", () => {
    const t = (value: number) => (domain: { count: number }) => [new Float32Array(domain.count).fill(value)];
    for (const [value, radius] of [
      [0, 1],
      [0.5, 0.85],
      [1, 0.7],
    ]) {
      const mesh = meshOfVolume(blendedVolumes(ball(0.1), ball(0.1, 0.7), t(value)) as Volume);
      expect((meshVolume(mesh) / ((4 / 3) * Math.PI)) ** (1 / 3)).toBeCloseTo(radius, 1.5);
    }
  });

  it("tells distances anew to any band, true to a part of a voxel", () => {
    const volume = toldTo(ball(0.06), 0.5) as Volume;
    const reader = new VolumeReader(volume, "distance");
    for (const r of [0.55, 0.8, 1.2, 1.45]) expect(Math.abs(reader.at(r, 0, 0) - (r - 1))).toBeLessThan(0.01);
  });
});

describe("bad input", () => {
  it("is refused where there are more tiles than can be held", () => {
    expect(() => volumeOfMesh(boxMesh([1, 1, 1], 1), { voxel: 1e-4, band: 0, thickness: null })).toThrow(
      TooFine,
    );
    expect(() => volumeOfBalls({ places: [[0], [0], [0]], radii: [1] }, 1e-9, 0)).toThrow(TooFine);
  });

  it("gives nothing for nothing", () => {
    expect(volumeOfBalls({ places: [[], [], []], radii: [] }, 1, 1)).toBeNull();
    const full = fullVolume({ min: [0, 0, 0], max: [1, 1, 1] }, 1);
    expect(
      surfaceOf(volumeOfValues(full, new Float32Array(full.voxels.count).fill(1), 0.5), { level: 0 }),
    ).toBeNull();
  });
});
