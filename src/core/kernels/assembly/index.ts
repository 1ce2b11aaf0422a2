/** Everything the field engine runs over blocks. Pointers are byte addresses; a block is padded to four elements. */
export * from "./arithmetic";
export * from "./colors";
export * from "./matrices";
export * from "./noise";
export * from "./rotations";
export * from "./tables";
export * from "./transcendental";
