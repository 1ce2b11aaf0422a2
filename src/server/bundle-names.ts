/** What stands where in a bundle. */
export const BUNDLE_DOCUMENT = "piece.glemmo.json";
export const BUNDLE_FILES = "assets/";
