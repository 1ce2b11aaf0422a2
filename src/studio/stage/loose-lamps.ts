/** Lamps as shaders take them of what has no material: smoke, and dots that are balls. */
import * as THREE from "three";

/** The strongest of a piece light what is loose. */
export const MOST_LAMPS = 4;

export interface LooseLamp {
  /** Where it is; of a sun the way to it. */
  readonly place: THREE.Vector3;
  readonly isSun: boolean;
  /** Linear, as much as shines at one unit; of a sun everywhere. */
  readonly color: THREE.Color;
  /** Of a spot: where it shines to, and the cosines of where it begins to fade and where it ends; all around without one. */
  readonly cone?: { readonly way: THREE.Vector3; readonly inner: number; readonly outer: number };
}

/** All that lights what is loose: from around, from the key and the way to that, and lamps; linear. */
export interface LooseLight {
  readonly sky: THREE.Color;
  readonly key: THREE.Color;
  readonly from: THREE.Vector3;
  readonly lamps: readonly LooseLamp[];
}

/**
 * `lampFalls` is how much of a lamp comes to a place where nothing is between, with the way to it and how far it is along
 * that.
 */
export const LAMP_SHADER = `
  uniform int lamps;
  // Of each lamp: where it is, or the way to a sun (w 0); colour, and lengths here a unit; a spot's way; cosines of its cone.
  uniform vec4 lampPlaces[${MOST_LAMPS}], lampColors[${MOST_LAMPS}], lampWays[${MOST_LAMPS}];
  uniform vec2 lampCones[${MOST_LAMPS}];
  float lampFalls(int n, vec3 at, out vec3 towards, out float far) {
    bool isSun = lampPlaces[n].w < 0.5;
    vec3 to = isSun ? lampPlaces[n].xyz : lampPlaces[n].xyz - at;
    far = isSun ? 1e9 : length(to);
    towards = normalize(to + 1e-9);
    if (isSun) return 1.0;
    float units = far / lampColors[n].w;
    float falls = 1.0 / max(units * units, 0.01);
    return lampWays[n].w > 0.5 ? falls * smoothstep(lampCones[n].y, lampCones[n].x, dot(-towards, lampWays[n].xyz)) : falls;
  }`;

const vectors = <T>(make: () => T): { value: T[] } => ({ value: Array.from({ length: MOST_LAMPS }, make) });

/** What the shader reads, of no lamps. */
export const lampUniforms = () => ({
  lamps: { value: 0 },
  lampPlaces: vectors(() => new THREE.Vector4()),
  lampColors: vectors(() => new THREE.Vector4()),
  lampWays: vectors(() => new THREE.Vector4()),
  lampCones: vectors(() => new THREE.Vector2()),
});

export type LampUniforms = ReturnType<typeof lampUniforms>;

/** @param into where the shader's places are, from the world's */
export function setLamps(uniforms: LampUniforms, lamps: readonly LooseLamp[], into: THREE.Matrix4): void {
  uniforms.lamps.value = lamps.length;
  const scale = Math.cbrt(Math.abs(into.determinant()));
  for (const [n, { place, isSun, color, cone }] of lamps.entries()) {
    const at = isSun ? place.clone().transformDirection(into) : place.clone().applyMatrix4(into);
    uniforms.lampPlaces.value[n].set(at.x, at.y, at.z, isSun ? 0 : 1);
    uniforms.lampColors.value[n].set(color.r, color.g, color.b, scale);
    const way = cone ? cone.way.clone().transformDirection(into) : at;
    uniforms.lampWays.value[n].set(way.x, way.y, way.z, cone ? 1 : 0);
    uniforms.lampCones.value[n].set(cone?.inner ?? 0, cone?.outer ?? 0);
  }
}
