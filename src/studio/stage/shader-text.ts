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
