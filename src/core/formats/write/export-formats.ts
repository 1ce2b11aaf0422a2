/**
 * Everything that can be taken away, one entry a format: what it is called, what it can carry, how its frames stand in files. The studio's
 * dialog, the queue and the command line read this list; who writes a format is found by its id.
 */

export interface ExportFormat {
  readonly id: string;
  /** As it is told in titles. */
  readonly title: string;
  /** As it is chosen among others of its group. */
  readonly label: string;
  readonly group: ExportGroup["id"];
  readonly ending: string;
  readonly mediaType: string;
  /** A file for each frame, one for a range, or one for the piece whatever the frame. */
  readonly frames: "each" | "range" | "none";
  /** Drawn by the stage, so that size, edges and motion blur apply; `clear` where it can be clear in places. */
  readonly drawn?: "opaque" | "clear";
  /** What was made before it was cut off is gone on from. */
  readonly resumes: boolean;
  /** The name that the command line has for it, where it writes it. */
  readonly command?: string;
}

export interface ExportGroup {
  readonly id: "picture" | "film" | "model" | "triangles" | "volume" | "values" | "piece";
  readonly title: string;
  readonly about: string;
}

export const EXPORT_GROUPS: readonly ExportGroup[] = [
  { id: "picture", title: "Picture", about: "PNG or OpenEXR of the stage, at any size" },
  { id: "film", title: "Film", about: "MP4, WebM or GIF of a range of frames" },
  { id: "model", title: "3D file", about: "GLB (glTF 2.0), one unit is a metre" },
  { id: "triangles", title: "Plain triangles", about: "OBJ, PLY or STL, every copy written out" },
  { id: "volume", title: "Volume", about: "NRRD or slices of the volume that reaches the stage" },
  { id: "values", title: "Values", about: "CSV of the elements that reach the stage" },
  { id: "piece", title: "Piece", about: "The document as .glemmo.json" },
];

const each = { frames: "each", resumes: true } as const;
const picture = { group: "picture", drawn: "clear", ...each } as const;
const film = { group: "film", frames: "range", resumes: true } as const;

export const EXPORT_FORMATS = [
  {
    id: "png",
    title: "PNG",
    label: "PNG, 8 bits a part",
    ...picture,
    ending: "png",
    mediaType: "image/png",
  },
  {
    id: "png-16",
    title: "PNG, 16 bits",
    label: "PNG, 16 bits a part",
    ...picture,
    ending: "png",
    mediaType: "image/png",
  },
  {
    id: "exr",
    title: "OpenEXR",
    label: "OpenEXR: light, emission, depth, normals, motion, mask",
    ...picture,
    ending: "exr",
    mediaType: "image/x-exr",
  },
  {
    id: "mp4",
    title: "MP4",
    label: "MP4 (H.264), plays everywhere",
    ending: "mp4",
    mediaType: "video/mp4",
    drawn: "opaque",
    ...film,
  },
  {
    id: "webm",
    title: "WEBM",
    label: "WebM (VP9), open and small",
    ending: "webm",
    mediaType: "video/webm",
    drawn: "clear",
    ...film,
  },
  {
    id: "gif",
    title: "GIF",
    label: "GIF, 256 colours, repeats",
    ending: "gif",
    mediaType: "image/gif",
    drawn: "clear",
    ...film,
  },
  {
    id: "glb",
    title: "GLB",
    label: "a file for each frame",
    group: "model",
    ending: "glb",
    mediaType: "model/gltf-binary",
    command: "glb",
    ...each,
  },
  {
    id: "obj",
    title: "OBJ",
    label: "OBJ, text",
    group: "triangles",
    ending: "obj",
    mediaType: "model/obj",
    command: "obj",
    ...each,
  },
  {
    id: "ply",
    title: "PLY",
    label: "PLY, binary, with colours",
    group: "triangles",
    ending: "ply",
    mediaType: "application/octet-stream",
    command: "ply",
    ...each,
  },
  {
    id: "stl",
    title: "STL",
    label: "STL, binary",
    group: "triangles",
    ending: "stl",
    mediaType: "model/stl",
    command: "stl",
    ...each,
  },
  {
    id: "nrrd",
    title: "NRRD",
    label: "NRRD, floats with a text header",
    group: "volume",
    ending: "nrrd",
    mediaType: "application/octet-stream",
    command: "nrrd",
    ...each,
  },
  {
    id: "slices",
    title: "slices",
    label: "slices as PNG, 16-bit grey (.zip)",
    group: "volume",
    ending: "zip",
    mediaType: "application/zip",
    command: "slices",
    ...each,
  },
  {
    id: "slices-exr",
    title: "slices as OpenEXR",
    label: "slices as OpenEXR values (.zip)",
    group: "volume",
    ending: "zip",
    mediaType: "application/zip",
    command: "slices-exr",
    ...each,
  },
  {
    id: "csv",
    title: "CSV",
    label: "CSV",
    group: "values",
    ending: "csv",
    mediaType: "text/csv",
    command: "csv",
    ...each,
  },
  {
    id: "moving",
    title: "moving GLB",
    label: "moving, all frames in one file",
    group: "model",
    ending: "glb",
    mediaType: "model/gltf-binary",
    frames: "range",
    resumes: false,
    command: "animation",
  },
  {
    id: "piece",
    title: "piece",
    label: "document",
    group: "piece",
    ending: "glemmo.json",
    mediaType: "application/json",
    frames: "none",
    resumes: false,
  },
] as const satisfies readonly ExportFormat[];

export type ExportId = (typeof EXPORT_FORMATS)[number]["id"];

export const exportFormat = (id: ExportId): ExportFormat =>
  EXPORT_FORMATS.find((format) => format.id === id) as ExportFormat;

/** The formats of a group, in the order in which they are offered. */
export const formatsOf = (group: ExportGroup["id"]): readonly (ExportFormat & { readonly id: ExportId })[] =>
  EXPORT_FORMATS.filter((format) => format.group === group);
