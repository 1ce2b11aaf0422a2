/**
 * Fog that lies on the ground and thins out upwards. Of light that goes through it exp(−τ) is left; along a straight way τ is known in closed
 * form, as density falls with exp(−y ÷ top) (for instance I. Quilez, "Better fog", 2010). Chunks of three's shaders are replaced once, so that
 * whatever it draws is in it; its `near` and `far` carry the density where y is 0, and the top.
 */
import * as THREE from "three";

/** What is lost on a way: from a height, over a length, so much higher at its end. */
export const FOG_LOST = `
float fogLost(float density, float top, float from, float length, float rise) {
  float thick = density * length;
  if (top > 0.0) {
    float steps = rise / top;
    thick *= exp(clamp(-from / top, -60.0, 60.0)) * (abs(steps) < 0.001 ? 1.0 : (1.0 - exp(-steps)) / steps);
  }
  return 1.0 - exp(-thick);
}`;

Object.assign(THREE.ShaderChunk, {
  fog_pars_vertex: "#ifdef USE_FOG\n varying vec3 fogPlace;\n#endif",
  // Seen from the camera, so turned back to know how much higher it is.
  fog_vertex: "#ifdef USE_FOG\n fogPlace = mvPosition.xyz;\n#endif",
  fog_pars_fragment: `#ifdef USE_FOG
    uniform vec3 fogColor;
    uniform float fogNear;
    uniform float fogFar;
    varying vec3 fogPlace;
    ${FOG_LOST}
  #endif`,
  fog_fragment: `#ifdef USE_FOG
    gl_FragColor.rgb = mix(gl_FragColor.rgb, fogColor,
      fogLost(fogNear, fogFar, cameraPosition.y, length(fogPlace), dot(viewMatrix[1].xyz, fogPlace)));
  #endif`,
});

/** Null where there is none. */
export function fogOf(density: number, top: number, color: readonly number[]): THREE.Fog | null {
  if (density <= 0) return null;
  // Light that is lost over a unit, as a part, to the exponent that loses it.
  const fog = new THREE.Fog(0, -Math.log(1 - Math.min(0.999, density)), top);
  fog.color.setRGB(color[0], color[1], color[2]);
  return fog;
}
