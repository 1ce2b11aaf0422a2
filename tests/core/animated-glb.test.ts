/** Animations as glTF 2.0: valid for gltf-validator, and played by three's loader and mixer to where the piece puts its clones. */
import { validateBytes } from "gltf-validator";
import { AnimationMixer, type Object3D, Quaternion, Vector3 } from "three";
import { type GLTF, GLTFLoader } from "three/examples/jsm/loaders/GLTFLoader.js";
import type { PieceDocument } from "../../src/core/document/schema";
import { Evaluator } from "../../src/core/evaluate/evaluator";
import { AnimatedGlb, MOST_ANIMATED } from "../../src/core/formats/write/animated-glb";
import type { Shape } from "../../src/core/geometry/shape";
import { graphOf, type NodeSpec } from "../run-node";

const ring = (nodes: Record<string, NodeSpec>, links: readonly string[] = []): PieceDocument =>
  graphOf(
    {
      ring: { type: "ring-sites", set: { count: 5, radius: 2 } },
      box: { type: "box", set: { size: [0.3, 0.2, 0.1] } },
      clone: { type: "clone-onto-sites" },
      stage: { type: "stage" },
      ...nodes,
    },
    ["ring.sites>clone.sites", "box.shape>clone.shapes", ...links],
  );

/** Turned by 170° a frame and lifted by noise, so that rotations pass the half turn. */
const spinning = ring(
  {
    clock: { type: "clock" },
    by: { type: "arithmetic", set: { do: "multiply", b: 170 } },
    spin: { type: "angles" },
    turn: { type: "rotate" },
    noise: { type: "noise", set: { speed: 3 } },
    lift: { type: "move" },
  },
  [
    "clock.frame>by.a",
    "by.value>spin.y",
    "spin.rotation>turn.turn",
    "clone.clones>turn.shape",
    "turn.shape>lift.shape",
    "noise.vector>lift.by",
    "lift.shape>stage.shape",
  ],
);

async function animated(document: PieceDocument, frames: readonly number[]) {
  const evaluator = new Evaluator();
  const glb = new AnimatedGlb();
  const shapes: number[][][] = [];
  for (const frame of frames) {
    const { shape } = evaluator.evaluate(document, frame);
    glb.add(shape as Shape, frame, (frame - frames[0]) / 25);
    const lanes = (name: string) => (shape?.sites?.columns[name]?.lanes ?? []).map((lane) => [...lane]);
    shapes.push([...lanes("position"), ...lanes("rotation")]);
  }
  return { bytes: await glb.write("test"), shapes };
}

const load = (bytes: Uint8Array): Promise<GLTF> =>
  new GLTFLoader().parseAsync(bytes.slice().buffer as ArrayBuffer, "");

describe("animated GLB", () => {
  it("passes gltf-validator without an error or a warning", async () => {
    const { bytes } = await animated(spinning, [0, 1, 2, 3]);
    const { issues, info } = await validateBytes(bytes);
    expect(issues.messages.filter((m: { severity: number }) => m.severity < 2)).toEqual([]);
    expect([issues.numErrors, info.animationCount]).toEqual([0, 1]);
  });

  it("is played by three to where the clones are at each frame", async () => {
    const frames = [10, 11, 12, 13];
    const { bytes, shapes } = await animated(spinning, frames);
    const { scene, animations } = await load(bytes);
    const mixer = new AnimationMixer(scene);
    mixer.clipAction(animations[0]).play();
    expect(animations[0].duration).toBeCloseTo(3 / 25, 6);
    for (const [f, lanes] of shapes.entries()) {
      // A hair before the end: at it a clip begins anew.
      mixer.setTime(Math.min(f / 25, 3 / 25 - 1e-6));
      for (let i = 0; i < 5; i++) {
        const node = scene.getObjectByName(`mesh-1-${i}`) as Object3D;
        const place = new Vector3(lanes[0][i], lanes[1][i], lanes[2][i]);
        expect(node.position.distanceTo(place)).toBeLessThan(1e-4);
        const turn = new Quaternion(lanes[3][i], lanes[4][i], lanes[5][i], lanes[6][i]);
        expect(node.quaternion.angleTo(turn)).toBeLessThan(1e-2);
      }
    }
  });

  it("moves nothing that stands, and shares one mesh", async () => {
    const still = ring({}, ["clone.clones>stage.shape"]);
    const { bytes } = await animated(still, [0, 1, 2]);
    const { scene, animations } = await load(bytes);
    expect(animations).toHaveLength(0);
    expect(scene.children).toHaveLength(5);
    const { info } = await validateBytes(bytes);
    expect(info.totalVertexCount).toBe(24);
  });

  it("clones that come and go have no size while they are away", async () => {
    const growing: PieceDocument = {
      ...ring({}, ["clone.clones>stage.shape"]),
    };
    const keyed = {
      ...growing,
      graph: {
        ...growing.graph,
        nodes: growing.graph.nodes.map((node) =>
          node.id === "ring"
            ? {
                ...node,
                keys: {
                  count: {
                    keys: [
                      { frame: 0, value: 3, ease: "hold" as const },
                      { frame: 2, value: 5, ease: "hold" as const },
                      { frame: 3, value: 4 },
                    ],
                  },
                },
              }
            : node,
        ),
      },
    };
    const { bytes } = await animated(keyed, [0, 1, 2, 3]);
    const { scene, animations } = await load(bytes);
    const mixer = new AnimationMixer(scene);
    mixer.clipAction(animations[0]).play();
    const sizes = (frame: number) => {
      mixer.setTime(frame / 25);
      return [0, 1, 2, 3, 4].map((i) => scene.getObjectByName(`mesh-1-${i}`)?.scale.x ?? 0);
    };
    expect(sizes(0)).toEqual([1, 1, 1, 0, 0]);
    expect(sizes(2).map((s) => Math.round(s * 1e4) / 1e4)).toEqual([1, 1, 1, 1, 1]);
  });

  it("refuses shapes that change, too many clones, and nothing at all, in words", async () => {
    const still = ring({}, ["clone.clones>stage.shape"]);
    const nodes = still.graph.nodes.map((node) =>
      node.id === "box" ? { ...node, keys: { size: { keys: [0, 1].map(sizeKey) } } } : node,
    );
    const reshaped = { ...still, graph: { ...still.graph, nodes } };
    await expect(animated(reshaped, [0, 1])).rejects.toThrow(/At frame 1 a shape that is cloned/);
    const many = ring({ ring: { type: "ring-sites", set: { count: MOST_ANIMATED + 1 } } }, [
      "clone.clones>stage.shape",
    ]);
    await expect(animated(many, [0])).rejects.toThrow(/more than 2000 copies/);
    await expect(new AnimatedGlb().write("empty")).rejects.toThrow();
  });
});

const sizeKey = (frame: number) => ({ frame, value: [1 + frame, 1, 1] });
