/**
 * How lines and dots are drawn: as thick as each end says in units (or as fine as usual, in pixels), in colours that may be seen through.
 * Both begin from the materials of three.js.
 */
import * as THREE from "three";
import { LineMaterial } from "three/examples/jsm/lines/LineMaterial.js";
import { replaced } from "./shader-text";

/** Attributes: units across, 0 for the usual. */
export const THICKNESS_START = "instanceThicknessStart";
export const THICKNESS_END = "instanceThicknessEnd";
export const DOT_THICKNESS = "thickness";

/** CSS pixels across of what has no thickness of its own. */
const LINE_PIXELS = 1.6;
const DOT_PIXELS = 5;
/** However far away, what is thick is drawn no finer than this. */
const LEAST_PIXELS = 0.8;

export function lineMaterial(): LineMaterial {
  const material = new LineMaterial({ linewidth: LINE_PIXELS, vertexColors: true });
  material.vertexShader = replaced(
    material.vertexShader,
    [
      "attribute vec3 instanceColorStart;",
      `attribute vec4 instanceColorStart;
      attribute float ${THICKNESS_START};
      attribute float ${THICKNESS_END};
      varying float vAlpha;`,
    ],
    ["attribute vec3 instanceColorEnd;", "attribute vec4 instanceColorEnd;"],
    [
      "vColor.xyz = ( position.y < 0.5 ) ? instanceColorStart : instanceColorEnd;",
      `vec4 ink = ( position.y < 0.5 ) ? instanceColorStart : instanceColorEnd;
      vColor.xyz = ink.xyz;
      vAlpha = ink.a;`,
    ],
    // A unit at depth w is as high as the projection's second scale over w, in halves of the picture.
    [
      "offset *= linewidth;",
      `float across = ( position.y < 0.5 ) ? ${THICKNESS_START} : ${THICKNESS_END};
      float depth = ( position.y < 0.5 ) ? clipStart.w : clipEnd.w;
      float pixels = across * projectionMatrix[ 1 ][ 1 ] * resolution.y * 0.5 / depth;
      offset *= across > 0.0 ? max( pixels, float( ${LEAST_PIXELS} ) ) : linewidth;`,
    ],
  );
  material.fragmentShader = replaced(
    material.fragmentShader,
    ["varying float vLineDistance;", "varying float vLineDistance;\nvarying float vAlpha;"],
    ["float alpha = opacity;", "float alpha = opacity * vAlpha;"],
  );
  return material;
}

export function dotMaterial(): THREE.PointsMaterial {
  const material = new THREE.PointsMaterial({
    size: DOT_PIXELS,
    sizeAttenuation: false,
    vertexColors: true,
    transparent: true,
  });
  material.onBeforeCompile = (shader) => {
    // `size` comes in device pixels, `scale` as half the picture's height in CSS pixels.
    shader.vertexShader = replaced(
      shader.vertexShader,
      ["void main() {", `attribute float ${DOT_THICKNESS};\nvoid main() {`],
      [
        "gl_PointSize = size;",
        `float pixels = ${DOT_THICKNESS} * projectionMatrix[ 1 ][ 1 ] * scale / gl_Position.w;
        gl_PointSize = ${DOT_THICKNESS} > 0.0 ? max( pixels, float( ${LEAST_PIXELS} ) ) * size / float( ${DOT_PIXELS} ) : size;`,
      ],
    );
    shader.fragmentShader = replaced(shader.fragmentShader, [
      "#include <clipping_planes_fragment>",
      `#include <clipping_planes_fragment>
      if ( distance( gl_PointCoord, vec2( 0.5 ) ) > 0.5 ) discard;`,
    ]);
  };
  return material;
}
