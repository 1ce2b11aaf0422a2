/**
 * Bumps, as parts of a shader: the surface is left as it is, and only faces as if it had them (M. S. Mikkelsen, "Bump Mapping Unparametrized
 * Surfaces on the GPU", 2010). Heights are measured in the mesh's own space, so that they go with it. Reads lookC.
 */
import { CHANCE } from "./shader-text";

export const BUMPS = {
  /** Heights of a noise. */
  functions: `
    ${CHANCE}
    // Chances at the corners of the cell, between which the way is as smooth as K. Perlin's ("Improving Noise", 2002).
    float bumpNoise(vec3 p) {
      vec3 cell = floor(p);
      vec3 t = p - cell;
      t = t * t * t * (t * (t * 6.0 - 15.0) + 10.0);
      vec2 e = vec2(0.0, 1.0);
      vec4 near = vec4(chance(cell + e.xxx), chance(cell + e.yxx), chance(cell + e.xyx), chance(cell + e.yyx));
      vec4 far = vec4(chance(cell + e.xxy), chance(cell + e.yxy), chance(cell + e.xyy), chance(cell + e.yyy));
      vec4 deep = mix(near, far, t.z);
      vec2 row = mix(deep.xz, deep.yw, t.x);
      return mix(row.x, row.y, t.y) * 2.0 - 1.0;
    }
    // Three octaves; those that are finer than pixels are left out, as they would only flicker.
    float bumpHeight(vec3 p, float pixel) {
      float height = 0.0;
      float share = 1.0;
      for (int octave = 0; octave < 3; octave++) {
        height += share * (1.0 - smoothstep(0.25, 0.7, pixel)) * bumpNoise(p);
        p = p * 2.03 + 17.3;
        pixel *= 2.03;
        share *= 0.5;
      }
      return height;
    }`,

  /** How much higher the next pixels are by the noise, added to \`rise\`. */
  noise: `
    if (lookC.z > 0.0) {
      float size = max(lookC.w, 1e-6);
      float pixel = max(length(bumpX), length(bumpY)) / size;
      vec3 p = meshAt.xyz / size;
      float here = bumpHeight(p, pixel);
      rise += lookC.z * (vec2(bumpHeight(p + bumpX / size, pixel), bumpHeight(p + bumpY / size, pixel)) - here);
    }`,

  /** @param heights what adds to \`rise\` */
  fragment: (heights: string) => `
    // Differences to the next pixels are taken by all pixels, or they would not be known at the edge of what has bumps.
    vec3 bumpX = dFdx(meshAt.xyz), bumpY = dFdy(meshAt.xyz);
    vec3 seenX = dFdx(-vViewPosition), seenY = dFdy(-vViewPosition);
    vec2 rise = vec2(0.0);
    ${heights}
    if (rise != vec2(0.0)) {
      rise *= meshAt.w;
      vec3 r1 = cross(seenY, normal), r2 = cross(normal, seenX);
      float det = dot(seenX, r1) * faceDirection;
      normal = normalize(abs(det) * normal - sign(det) * (rise.x * r1 + rise.y * r2));
    }`,
};
