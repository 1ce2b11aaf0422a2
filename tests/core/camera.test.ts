/** Cameras: angles of lenses against tables of photography, cuts, paths, what is followed, and edits from where one looks. */
import fc from "fast-check";
import { PerspectiveCamera, Vector3 } from "three";
import { applyEdit } from "../../src/core/document/edits";
import { angleOfView, angleUpright, lensRadius } from "../../src/core/maths/lens";
import { type CameraSettings, cameraAt } from "../../src/core/nodes/dress/camera";
import type { Setting } from "../../src/core/nodes/ports";
import type { Parts } from "../../src/core/values/parts";
import { cameraHere, cameraOf } from "../../src/studio/stage/camera-edits";
import { evaluate, graphOf, type NodeSpec, outputsOf, reportOf } from "../run-node";

const degrees = (radians: number) => (radians * 180) / Math.PI;
const settingsOf = (nodes: Record<string, NodeSpec>, links: string[] = [], frame = 0): CameraSettings =>
  (outputsOf(graphOf(nodes, links), "it", frame).camera as Parts).settings as unknown as CameraSettings;

describe("lenses", () => {
  // [CAM] horizontal angles of a picture 36 mm wide, as tables of photography have them (from memory, to a tenth of a degree).
  it.each([
    [14, 104.3],
    [24, 73.7],
    [35, 54.4],
    [50, 39.6],
    [85, 23.9],
    [200, 10.3],
  ])("of %i mm see %f° across 36 mm", (focal, wanted) => {
    expect(degrees(angleOfView(focal, 36))).toBeCloseTo(wanted, 1);
  });

  it("show all of their picture, whatever it is shown in", () => {
    fc.assert(
      fc.property(
        fc.double({ min: 10, max: 300, noNaN: true }),
        fc.double({ min: 0.4, max: 3, noNaN: true }),
        fc.double({ min: 0.3, max: 4, noNaN: true }),
        (focal, picture, shown) => {
          const camera = new PerspectiveCamera(degrees(angleUpright(focal, 36, picture, shown)), shown);
          const half = Math.tan(angleOfView(focal, 36) / 2);
          // The corner of the picture, one unit before the camera.
          const corner = new Vector3(half, half / picture, -1).applyMatrix4(camera.projectionMatrix);
          expect(Math.max(corner.x, corner.y)).toBeCloseTo(1, 6);
        },
      ),
    );
  });
});

describe("what is not in focus", () => {
  // The disc that a place at `d` makes on the film, as the camera's projection sees it from the edges of the lens.
  const disc = (focal: number, fNumber: number, focus: number, d: number) => {
    const radius = lensRadius(focal, fNumber, focus);
    // Both rays meet at `focus`; what they are apart at `d` is as large on the film as the focal length over the distance to the focus.
    const apart = (2 * radius * Math.abs(d - focus)) / d;
    return (apart * focal) / focus;
  };

  it("is a disc on the film as large as handbooks of photography have it", () => {
    // f² ÷ (N (s − f)) · |d − s| ÷ d; millimetres: 50 mm at f/2, sharp at 2 m, seen at 4 m and at 1 m.
    expect(disc(50, 2, 2000, 4000)).toBeCloseTo((2500 / (2 * 1950)) * 0.5, 9);
    expect(disc(50, 2, 2000, 1000)).toBeCloseTo(2500 / (2 * 1950), 9);
    // Sharp at the hyperfocal distance f² ÷ (N c) + f, what is endlessly far is a disc of c: 10.47 m for 50 mm, f/8, 0.03 mm.
    const hyperfocal = 2500 / (8 * 0.03) + 50;
    expect(hyperfocal).toBeCloseTo(10_466.667, 3);
    expect(disc(50, 8, hyperfocal, 1e12)).toBeCloseTo(0.03, 9);
    // And half of that distance is as sharp as that (handbooks of photography).
    expect(disc(50, 8, hyperfocal, hyperfocal / 2)).toBeCloseTo(0.03, 9);
  });

  it("hangs on how large a unit is, and not at all on a parallel camera", () => {
    const at = (set: NodeSpec["set"]) =>
      settingsOf({ it: { type: "camera", set: { place: [0, 0, 20], lens: 50, aperture: 2, ...set } } });
    // 50 mm are half a unit of 10 cm; 200 cm away.
    expect(at({}).lensRadius).toBeCloseTo((0.5 / 2 / 2) * (20 / 19.5), 9);
    expect(at({}).focus).toBe(20);
    expect(at({ focus: 8 }).focus).toBe(8);
    expect(at({ unitSize: 100 }).lensRadius).toBeCloseTo(0.0125 * (20 / 19.95), 9);
    expect(at({ aperture: 0 }).lensRadius).toBe(0);
    expect(at({ projection: "parallel" }).lensRadius).toBe(0);
  });

  it("is refused where the lens is longer than that, with a repair", () => {
    const graph = graphOf({
      it: { type: "camera", set: { lens: 200, aperture: 2, focus: 1, unitSize: 10 } },
    });
    const [problem] = reportOf(graph, "it").problems;
    expect(problem.what).toContain("nothing nearer than that can be sharp");
    expect(problem.repair).toMatchObject({ input: "focus", value: 4 });
    expect(
      settingsOf({ it: { type: "camera", set: { lens: 200, aperture: 2, focus: 4 } } }).lensRadius,
    ).toBeGreaterThan(0);
  });
});

describe("a camera", () => {
  it("stands where it is put, goes along a path, and looks at what it follows", () => {
    expect(settingsOf({ it: { type: "camera", set: { place: [1, 2, 3], lens: 85 } } })).toMatchObject({
      place: [1, 2, 3],
      target: [0, 0, 0],
      lens: 85,
      film: 36,
    });
    const travelling = settingsOf(
      {
        rail: { type: "line", set: { from: [0, 1, 0], to: [10, 1, 0] } },
        row: { type: "row-sites", set: { count: 3, from: [0, 0, 0], to: [4, 0, 0] } },
        it: { type: "camera", set: { along: 0.25, which: 2 } },
      },
      ["rail.shape>it.path", "row.sites>it.follows"],
    );
    expect([travelling.place, travelling.target]).toEqual([
      [2.5, 1, 0],
      [4, 0, 0],
    ]);
    const beyond = graphOf(
      { row: { type: "row-sites", set: { count: 3 } }, it: { type: "camera", set: { which: 7 } } },
      ["row.sites>it.follows"],
    );
    expect(reportOf(beyond, "it").problems[0].repair?.value).toBe(2);
    const blind = graphOf({ it: { type: "camera", set: { place: [0, 0, 0] } } }, []);
    expect(reportOf(blind, "it").problems[0].what).toContain("looks nowhere");
  });

  it("sways as far as it is told to, and closes with the range", () => {
    const swaying = (frame: number, shake = 1) =>
      settingsOf(
        { it: { type: "camera", set: { place: [0, 0, 0], target: [0, 0, -5], shake, sway: 1 } } },
        [],
        frame,
      ).place;
    const { first, last } = graphOf({}, []).settings;
    expect(swaying(last + 1)).toEqual(swaying(first));
    const far = Array.from({ length: 40 }, (_, i) => Math.hypot(...swaying(i)));
    expect(Math.max(...far)).toBeGreaterThan(0.1);
    expect(Math.max(...far)).toBeLessThan(2);
    expect(swaying(7, 0.5).map((v) => v * 2)).toEqual(swaying(7).map((v) => expect.closeTo(v, 5)));
  });

  it("takes over at its frame, in whatever order they are linked", () => {
    const cut = (from: number): Parts => ({
      what: "camera",
      title: "",
      shapes: {},
      fields: {},
      settings: { place: [from, 0, 0], from },
    });
    const at = (cameras: readonly Parts[], frame: number) => cameraAt(cameras, frame)?.place[0];
    const three = [cut(50), cut(0), cut(20)];
    expect([0, 19, 20, 49, 50, 200].map((frame) => at(three, frame))).toEqual([0, 0, 20, 20, 50, 50]);
    // Before any has taken over, the first is looked through.
    expect(at([cut(30), cut(60)], 5)).toBe(30);
    expect(cameraAt([], 5)).toBeNull();
  });
});

describe("where one looks", () => {
  const view = { position: [1.23456, 2, 3], target: [0, 0.5, 0] } as const;
  const viewed = view as unknown as Parameters<typeof cameraHere>[1];

  it("becomes the camera's place, of a new one where there is none", () => {
    const piece = graphOf({ box: { type: "box" }, stage: { type: "stage" } }, ["box.shape>stage.shape"]);
    const made = applyEdit(piece, cameraHere(piece, viewed, new Set()) as never).document;
    const camera = cameraOf(made);
    expect(camera?.set).toMatchObject({ place: [1.235, 2, 3], target: [0, 0.5, 0] } as Record<
      string,
      Setting
    >);
    // A view of 35° upright in a picture of 16 : 9 is what a lens of 32.1 mm sees on film 20.25 mm high: 2 arctan(20.25 ÷ 64.2).
    expect(camera?.set.lens).toBeCloseTo(32.1, 1);
    const { camera: linked } = evaluate(made).stage as { camera: Parts[] };
    expect(linked[0].settings.place).toEqual([1.235, 2, 3]);
    const moved = applyEdit(
      made,
      cameraHere(made, { position: [9, 9, 9], target: [1, 1, 1] }, new Set()) as never,
    ).document;
    expect(moved.graph.nodes).toHaveLength(made.graph.nodes.length);
    expect(cameraOf(moved)?.set.place).toEqual([9, 9, 9]);
    expect(cameraHere(graphOf({ box: { type: "box" } }, []), viewed, new Set())).toBeNull();
  });
});
