/** Everything the field engine runs over blocks. Pointers are byte addresses; a block is padded to four elements. */
export * from "./arithmetic";
export * from "./colors";
export { random } from "./hashing";
export * from "./matrices";
export { noiseLattice } from "./noise";
export * from "./rotations";
export * from "./tables";
export * from "./transcendental";
