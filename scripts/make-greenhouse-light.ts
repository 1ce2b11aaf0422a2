/**
 * Paints the picture that lights the herb plots and writes src/demo/assets/greenhouse-light.png: an overcast sky
 * above, panes of glass as bright bars, dark soil below; equirectangular, 256 × 128.
 * Run: npx tsx scripts/make-greenhouse-light.ts
 */
import { writeFileSync } from "node:fs";
import { encode } from "fast-png";
import { encodeSrgb, parseHex, type Rgba } from "../src/core/maths/color";
import { mixStops } from "../src/core/maths/gradient";

const WIDTH = 256;
const HEIGHT = 128;
const sky = parseHex("#cfe3dc") as Rgba;
const edge = parseHex("#f4efdf") as Rgba;
const soil = parseHex("#2b2a22") as Rgba;
const pane = parseHex("#ffffff") as Rgba;

const data = new Uint8Array(WIDTH * HEIGHT * 3);
for (let row = 0; row < HEIGHT; row++) {
  for (let column = 0; column < WIDTH; column++) {
    const up = 1 - (2 * row) / HEIGHT;
    let color =
      up > 0 ? mixStops("oklab", edge, sky, up) : mixStops("oklab", edge, soil, Math.min(1, -up * 3));
    const bar = (column % 32) / 32;
    if (up > 0.18 && up < 0.62 && bar > 0.12 && bar < 0.88 && column < WIDTH / 2) color = pane;
    for (let c = 0; c < 3; c++) data[(row * WIDTH + column) * 3 + c] = Math.round(255 * encodeSrgb(color[c]));
  }
}
const bytes = encode({ width: WIDTH, height: HEIGHT, data, channels: 3, depth: 8 });
writeFileSync("src/demo/assets/greenhouse-light.png", bytes);
console.log(`greenhouse-light.png: ${bytes.length} bytes`);
