/**
 * How lines and dots are drawn: as thick as each end says in units (or as fine as usual, in pixels), in colours that may be seen through.
 * Both begin from the materials of three.js.
 */
import * as THREE from "three";
import { LineMaterial } from "three/examples/jsm/lines/LineMaterial.js";
import { LAMP_SHADER, type LampUniforms } from "./loose-lamps";
import { replaced } from "./shader-text";
import { DOT_TEXTURES, type Textures } from "./textures";

/** Attributes: units across, 0 for the usual. */
export const THICKNESS_START = "instanceThicknessStart";
export const THICKNESS_END = "instanceThicknessEnd";
export const DOT_THICKNESS = "thickness";
/** 0 for a flat disc, 1 for a ball. */
export const DOT_ROUNDNESS = "roundness";
/** The number of a set of pictures, 0 for none. */
export const DOT_PICTURES = "pictures";

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

/** What lights balls, by the names of the shader. */
export interface BallLight extends LampUniforms {
  readonly ballSky: { value: THREE.Color };
  readonly ballKey: { value: THREE.Color };
  /** The way to it, in the world. */
  readonly ballFrom: { value: THREE.Vector3 };
}

/** @param light is read whenever something is drawn @param textures what dots may show */
export function dotMaterial(light: BallLight, textures: Textures): THREE.PointsMaterial {
  const material = new THREE.PointsMaterial({
    size: DOT_PIXELS,
    sizeAttenuation: false,
    vertexColors: true,
    transparent: true,
  });
  material.onBeforeCompile = (shader) => {
    Object.assign(shader.uniforms, light, textures.uniforms);
    // `size` comes in device pixels, `scale` as half the picture's height in CSS pixels.
    shader.vertexShader = replaced(
      shader.vertexShader,
      [
        "void main() {",
        `attribute float ${DOT_THICKNESS}, ${DOT_ROUNDNESS}, ${DOT_PICTURES};
        ${DOT_TEXTURES.vertexHead}
        varying float vRound;
        varying vec3 vBallAt;
        void main() {
          vRound = ${DOT_ROUNDNESS};
          ${DOT_TEXTURES.vertex(DOT_PICTURES)}
          vBallAt = ( modelMatrix * vec4( position, 1.0 ) ).xyz;`,
      ],
      [
        "gl_PointSize = size;",
        `float pixels = ${DOT_THICKNESS} * projectionMatrix[ 1 ][ 1 ] * scale / gl_Position.w;
        gl_PointSize = ${DOT_THICKNESS} > 0.0 ? max( pixels, float( ${LEAST_PIXELS} ) ) * size / float( ${DOT_PIXELS} ) : size;`,
      ],
    );
    shader.fragmentShader = replaced(
      shader.fragmentShader,
      [
        "void main() {",
        `uniform vec3 ballSky, ballKey, ballFrom;
        varying float vRound;
        varying vec3 vBallAt;
        ${DOT_TEXTURES.functions}
        ${LAMP_SHADER}
        void main() {`,
      ],
      [
        "#include <clipping_planes_fragment>",
        `#include <clipping_planes_fragment>
        vec2 onDot = gl_PointCoord * 2.0 - 1.0;
        bool isPictured = dotTextureSet >= 0;
        if ( ! isPictured && dot( onDot, onDot ) > 1.0 ) discard;`,
      ],
      ["#include <alphatest_fragment>", DOT_TEXTURES.color],
      [
        "outgoingLight = diffuseColor.rgb;",
        `vec3 ballFacing = vec3( onDot.x, - onDot.y, sqrt( max( 0.0, 1.0 - dot( onDot, onDot ) ) ) );
        vec3 ballTo = ( viewMatrix * vec4( ballFrom, 0.0 ) ).xyz;
        vec3 ballUp = ( viewMatrix * vec4( 0.0, 1.0, 0.0, 0.0 ) ).xyz;
        // The sky is above: what looks down gets half of it.
        vec3 ballLit = ballSky * ( 0.75 + 0.25 * dot( ballFacing, ballUp ) ) * 2.0 + ballKey * max( 0.0, dot( ballFacing, ballTo ) );
        // The same facing in the world, where lamps are.
        vec3 ballOut = ( vec4( ballFacing, 0.0 ) * viewMatrix ).xyz;
        for ( int n = 0; n < lamps; n ++ ) {
          vec3 towards;
          float far;
          float falls = lampFalls( n, vBallAt, towards, far );
          ballLit += lampColors[ n ].rgb * falls * max( 0.0, dot( ballOut, towards ) );
        }
        outgoingLight = diffuseColor.rgb * mix( vec3( 1.0 ), ballLit, isPictured ? 0.0 : vRound );`,
      ],
    );
  };
  return material;
}
