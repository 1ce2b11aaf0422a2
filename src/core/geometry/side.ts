/** Attribute of faces that says which part of a formed mesh they are; what its numbers mean, each node says. */
export const SIDE = "side";
