/** Everything the field engine runs over blocks. Pointers are byte addresses; a block is padded to four elements. */
export * from "./arithmetic";
export { cells } from "./cells";
export * from "./colors";
export * from "./exact";
export { random } from "./hashing";
export * from "./grid";
export * from "./matrices";
export { noiseLattice, noiseLattice3 } from "./noise";
export * from "./own-distances";
export * from "./particles";
export * from "./pictures";
export * from "./pushing";
export * from "./rotations";
export * from "./statistics";
export * from "./springs";
export { swirlLattice } from "./swirl";
export * from "./tables";
export * from "./transcendental";
