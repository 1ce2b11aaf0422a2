/** The attribute of curve points and of sites that says how many units across a line or a dot is drawn; 0 for the usual fine ones. */
export const THICKNESS = "thickness";

/** The attribute of sites that says whether their dots are flat and as bright as their colour, 0, or balls in the light of the stage, 1. */
export const ROUNDNESS = "roundness";
