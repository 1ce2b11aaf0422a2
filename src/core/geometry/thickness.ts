/** The attribute of curve points and of sites that says how many units across a line or a dot is drawn; 0 for the usual fine ones. */
export const THICKNESS = "thickness";
