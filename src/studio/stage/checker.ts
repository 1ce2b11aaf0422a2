/** A picture that shows how surfaces lie on pictures: squares that stay square where nothing is stretched. */
import * as THREE from "three";

/** Squares across and down. */
const SQUARES = 16;

/** Of the picture's left and right edge, and of its bottom: so that it is seen which part of it lies where. */
const [LEFT, RIGHT, LOW] = [
  [52, 148, 122],
  [232, 172, 74],
  [196, 88, 66],
];

let made: THREE.DataTexture | null = null;

/** The same for all materials of the page. */
export function checker(): THREE.DataTexture {
  if (made) return made;
  const pixels = new Uint8Array(SQUARES * SQUARES * 4);
  for (let y = 0; y < SQUARES; y++)
    for (let x = 0; x < SQUARES; x++) {
      const [right, down] = [x / (SQUARES - 1), y / (SQUARES - 1)];
      const pale = (x + y) % 2 === 0;
      for (let c = 0; c < 3; c++) {
        const hue = LEFT[c] + (RIGHT[c] - LEFT[c]) * right + (LOW[c] - LEFT[c]) * down * 0.6;
        pixels[4 * (y * SQUARES + x) + c] = pale ? 232 + (hue - 232) * 0.12 : Math.max(0, Math.min(255, hue));
      }
      pixels[4 * (y * SQUARES + x) + 3] = 255;
    }
  made = new THREE.DataTexture(pixels, SQUARES, SQUARES);
  made.wrapS = made.wrapT = THREE.RepeatWrapping;
  made.colorSpace = THREE.SRGBColorSpace;
  made.magFilter = THREE.NearestFilter;
  made.minFilter = THREE.LinearMipmapLinearFilter;
  made.generateMipmaps = true;
  made.needsUpdate = true;
  return made;
}
