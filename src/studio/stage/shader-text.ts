/** A number from 0 to 1 that a place seems to draw by lot, as a function of a shader (D. Hoskins, "Hash without Sine", 2014). */
export const CHANCE = `
float chance(vec3 p) {
  p = fract(p * 0.1031);
  p += dot(p, p.zyx + 31.32);
  return fract((p.x + p.y) * p.z);
}`;

/** Shaders of three.js, of which a part gives way to our own. @throws Error when three.js has become another one */
export function replaced(
  shader: string,
  ...pairs: readonly (readonly [old: string | RegExp, text: string])[]
): string {
  for (const [old, text] of pairs) {
    if (typeof old === "string" ? !shader.includes(old) : !old.test(shader))
      throw new Error(`The shader has no "${old}".`);
    shader = shader.replace(old, text);
  }
  return shader;
}
