/** Four vectors of four lanes turned into four of four components, each stored at a place of its own. */
@inline
export function storeTransposed(
  to0: usize, to1: usize, to2: usize, to3: usize, a: v128, b: v128, c: v128, d: v128,
): void {
  const ab0 = v128.shuffle<f32>(a, b, 0, 4, 1, 5);
  const ab1 = v128.shuffle<f32>(a, b, 2, 6, 3, 7);
  const cd0 = v128.shuffle<f32>(c, d, 0, 4, 1, 5);
  const cd1 = v128.shuffle<f32>(c, d, 2, 6, 3, 7);
  v128.store(to0, v128.shuffle<f32>(ab0, cd0, 0, 1, 4, 5));
  v128.store(to1, v128.shuffle<f32>(ab0, cd0, 2, 3, 6, 7));
  v128.store(to2, v128.shuffle<f32>(ab1, cd1, 0, 1, 4, 5));
  v128.store(to3, v128.shuffle<f32>(ab1, cd1, 2, 3, 6, 7));
}
