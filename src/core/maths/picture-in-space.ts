/** How a picture is laid into space: which components of a place run to its right and upwards, and the sign of the latter. */
export const PICTURE_LIES = {
  "on the ground": { right: 0, up: 2, upwards: -1 },
  "upright, facing z": { right: 0, up: 1, upwards: 1 },
  "upright, facing x": { right: 2, up: 1, upwards: 1 },
} as const;

/** Rec. 709 luminance of linear light (ITU-R BT.709-6, item 3.2). */
export const LUMINANCE = [0.2126, 0.7152, 0.0722] as const;
