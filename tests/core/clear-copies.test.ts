/** Copies that can be seen through: painted from the furthest to the nearest (the painter's algorithm; common practice, no source). */
import fc from "fast-check";
import {
  BoxGeometry,
  InstancedBufferAttribute,
  InstancedMesh,
  Matrix4,
  PerspectiveCamera,
  Vector3,
} from "three";
import { LIGHT_ALONE, LOOK_NAMES, LOOK_WIDTH, UNSAID } from "../../src/core/geometry/surface-look";
import { anyClear, ClearCopies } from "../../src/studio/stage/clear-copies";
import { anyLightAlone, ONLY_LIGHT } from "../../src/studio/stage/look-shader";
import { COPY_ALPHA } from "../../src/studio/stage/mesh-materials";

const OPAQUE = { isClear: false, hasLight: false };

/** A mesh with copies at places, each as opaque as given. */
function copiesAt(places: readonly (readonly number[])[], alphas: readonly number[], own = OPAQUE) {
  const mesh = new InstancedMesh(new BoxGeometry(), undefined, places.length);
  mesh.instanceColor = new InstancedBufferAttribute(new Float32Array(places.length * 4), 4);
  const matrices = Float32Array.from(
    places.flatMap(([x, y, z]) => new Matrix4().makeTranslation(x, y, z).toArray()),
  );
  const colors = Float32Array.from(alphas.flatMap((alpha, i) => [i / 10, 0, 0, alpha]));
  const clear = new ClearCopies(mesh, own, places.length);
  clear.take(matrices, colors, null);
  return { mesh, clear, matrices, colors };
}

function cameraAt(x: number, y: number, z: number): PerspectiveCamera {
  const camera = new PerspectiveCamera();
  camera.position.set(x, y, z);
  camera.lookAt(0, 0, 0);
  camera.updateMatrixWorld();
  return camera;
}

const drawn = (clear: ClearCopies): number[] =>
  Array.from({ length: clear.mesh.count }, (_, i) => clear.copyOf(clear.mesh, i));

test("solid copies stay with all others, clear ones are drawn from the furthest on, and follow the camera", () => {
  const { mesh, clear } = copiesAt(
    [
      [0, 0, 0],
      [0, 0, 2],
      [0, 0, -2],
      [0, 0, 4],
    ],
    [0.5, 1, 0.5, 0.25],
  );
  clear.sort(cameraAt(0, 0, 10));
  expect(drawn(clear)).toEqual([2, 0, 3]);
  expect([...clear.mesh.geometry.getAttribute(COPY_ALPHA).array].slice(0, 3)).toEqual([0.5, 0.5, 0.25]);
  expect([mesh.count, clear.copyOf(mesh, 0)]).toEqual([1, 1]);
  expect(new Vector3().setFromMatrixPosition(new Matrix4().fromArray(mesh.instanceMatrix.array)).z).toBe(2);
  clear.sort(cameraAt(0, 0, -10));
  expect(drawn(clear)).toEqual([3, 0, 2]);
});

test("whatever the places and the camera, none is painted over by one that is further away", () => {
  const number = fc.double({ min: -50, max: 50, noNaN: true });
  const place = fc.tuple(number, number, number);
  fc.assert(
    fc.property(fc.array(place, { minLength: 1, maxLength: 40 }), place, (places, at) => {
      // Straight from above or below the camera has no up, and three leans it by 10⁻⁴.
      fc.pre(Math.hypot(...at) > 1 && Math.hypot(at[0], at[2]) > 1e-6);
      const { clear } = copiesAt(
        places,
        places.map(() => 0.5),
      );
      const camera = cameraAt(...at);
      clear.sort(camera);
      const depths = drawn(clear).map(
        (copy) => new Vector3(...places[copy]).applyMatrix4(camera.matrixWorldInverse).z,
      );
      // As fine as the steps that depth is cut into.
      const step = (Math.max(...depths) - Math.min(...depths)) / 65535 + 1e-4;
      depths.forEach((depth, i) => {
        expect(i === 0 || depth >= depths[i - 1] - step).toBe(true);
      });
      expect([...drawn(clear)].sort((a, b) => a - b)).toEqual(places.map((_, i) => i));
    }),
  );
});

test("new colours alone keep the places; what cannot be seen through any more goes back as it was sent", () => {
  const { mesh, clear, matrices } = copiesAt(
    [
      [1, 0, 0],
      [2, 0, 0],
    ],
    [0.5, 1],
  );
  const colors = Float32Array.of(1, 1, 1, 1, 1, 1, 1, 0.5);
  clear.take(new Float32Array(0), colors, null);
  clear.sort(cameraAt(0, 0, 5));
  expect(drawn(clear)).toEqual([1]);
  clear.restore();
  expect([...mesh.instanceMatrix.array]).toEqual([...matrices]);
  expect(mesh.count).toBe(2);
});

test("a mesh whose own colours are clear has all of its copies seen through", () => {
  const { mesh, clear } = copiesAt(
    [
      [0, 0, 0],
      [0, 0, 1],
    ],
    [1, 1],
    { isClear: true, hasLight: false },
  );
  expect(mesh.count).toBe(0);
  clear.sort(cameraAt(0, 0, 5));
  expect(drawn(clear)).toEqual([0, 1]);
  expect([anyClear(Float32Array.of(1, 1, 1, 1)), anyClear(Float32Array.of(1, 1, 1, 0.9))]).toEqual([
    false,
    true,
  ]);
});

test("copies that are nothing but light are drawn with the clear ones, and throw no shadow", () => {
  const { mesh, clear } = copiesAt(
    [
      [0, 0, 0],
      [0, 0, 1],
    ],
    [1, 1],
  );
  const looks = new Float32Array(2 * LOOK_WIDTH).fill(UNSAID);
  looks[LOOK_WIDTH + LOOK_NAMES.indexOf("shading")] = LIGHT_ALONE;
  clear.take(new Float32Array(0), new Float32Array(0), looks);
  clear.sort(cameraAt(0, 0, 5));
  expect([drawn(clear), mesh.count, clear.mesh.castShadow]).toEqual([[1], 1, false]);
  expect([anyLightAlone(looks), anyLightAlone(looks.subarray(0, LOOK_WIDTH))]).toEqual([true, false]);
});

test("of a mesh that is light in parts, the others stay with what is solid", () => {
  const { mesh, clear } = copiesAt(
    [
      [0, 0, 0],
      [0, 0, 1],
    ],
    [1, 0.5],
    { isClear: false, hasLight: true },
  );
  clear.sort(cameraAt(0, 0, 5));
  expect([drawn(clear), mesh.count]).toEqual([[0, 1], 1]);
  expect([...clear.mesh.geometry.getAttribute(COPY_ALPHA).array]).toEqual([ONLY_LIGHT, 0.5]);
});
