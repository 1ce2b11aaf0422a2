/**
 * What is saved: the `.glemmo.json` document. Objects are open: what a newer version wrote and this one does
 * not know is kept on reading and written back. Links name ports as `node.port`.
 */
import { z } from "zod";
import { KEY_EASES } from "../keys/ease";
import { REPEATS } from "../keys/repeat";
import { PORT_KINDS, type Setting, UNITS } from "../nodes/ports";
import { cleanFileName } from "./file-name";

export const DOCUMENT_VERSION = 2;

/** How many of each a piece may have: of a graph's parts, the piece's and those of each capsule. */
export const MOST = { nodes: 5000, links: 20_000, notes: 500, dials: 500, snapshots: 100 } as const;

/** Letters of an id. */
export const LONGEST_ID = 64;

/** Node ids, asset names: no dots, as links join them with ports by one. */
const identifier = z
  .string()
  .max(LONGEST_ID)
  .regex(/^[A-Za-z][A-Za-z0-9_-]*$/, "must be letters, digits, - or _ and begin with a letter");
const portAddress = z.string().regex(/^[^.]+\.[^.]+$/, "must be written node.port");
const finite = z.number().refine(Number.isFinite, "must be a finite number");
const unit = finite.min(0).max(1);
const place = z.tuple([finite, finite]);
const settingSchema = z.json() as unknown as z.ZodType<Setting>;

/** Values over time: between two keys the first one's `ease` leads to the second. */
export const keySchema = z.looseObject({
  /** May be fractional. No two keys of a track have the same. */
  frame: finite.min(-1_000_000).max(1_000_000),
  value: settingSchema,
  /** A name, or the two handles of a cubic Bézier as in CSS: x1 y1 x2 y2, x from 0 to 1. Straight when it is missing. */
  ease: z.union([z.enum(KEY_EASES), z.tuple([unit, finite, unit, finite])]).optional(),
});

export const trackSchema = z.looseObject({
  keys: z.array(keySchema).min(1).max(5000),
  /** What comes before the first key and after the last; held when it is missing. */
  before: z.enum(REPEATS).optional(),
  after: z.enum(REPEATS).optional(),
});

export const nodeSchema = z.looseObject({
  id: identifier,
  /** A type of the catalogue, or one of a capsule: see capsules/definitions.ts. */
  type: z.string().min(1).max(100),
  at: place,
  set: z.record(z.string(), settingSchema).default({}),
  /** Passes its first input on unchanged. */
  bypass: z.boolean().optional(),
  /** Its range is fitted anew to what arrives whenever the piece changes, over these frames. */
  fit: z.looseObject({ part: z.enum(["whole", "most"]), frames: z.tuple([finite, finite]) }).optional(),
  /** Inputs that change over time, in place of what is set. */
  keys: z.record(z.string(), trackSchema).optional(),
  /** Limits of sliders that the designer has set, by input. */
  limits: z.record(z.string(), z.tuple([finite, finite])).optional(),
});

export const linkSchema = z.looseObject({
  /** `node.output`, or `node.set:input` for the value that another node's input has. */
  from: portAddress,
  to: portAddress,
  /** Places that the link is led through, in the graph. */
  via: z.array(place).max(32).optional(),
});

export const NOTE_TINTS = ["moss", "marigold", "sky", "coral", "lilac"] as const;

/** A labelled patch behind nodes. */
export const noteSchema = z.looseObject({
  id: identifier,
  at: place,
  size: z.tuple([finite.min(40).max(20_000), finite.min(40).max(20_000)]),
  text: z.string().max(2000),
  tint: z.enum(NOTE_TINTS),
});

export const graphSchema = z.looseObject({
  nodes: z.array(nodeSchema).max(MOST.nodes),
  links: z.array(linkSchema).max(MOST.links),
  notes: z.array(noteSchema).max(MOST.notes).optional(),
});

const portSchema = {
  /** Never changes: settings and links name it. */
  name: identifier,
  /** What is shown. */
  label: z.string().trim().min(1).max(60),
  kind: z.enum(PORT_KINDS),
  about: z.string().max(300).default(""),
};

export const capsuleInputSchema = z.looseObject({
  ...portSchema,
  group: z.string().trim().min(1).max(60).optional(),
  default: settingSchema,
  min: finite.optional(),
  max: finite.optional(),
  soft: z.tuple([finite, finite]).optional(),
  unit: z.enum(UNITS).optional(),
  whole: z.boolean().optional(),
  choices: z.array(z.string().min(1).max(60)).min(1).max(200).optional(),
  many: z.boolean().optional(),
  holds: z.enum(["shape", "picture", "font", "look-up"]).optional(),
  /** The attribute that is read when nothing is linked. */
  implicit: z.string().max(64).optional(),
});

export const capsuleOutputSchema = z.looseObject(portSchema);

/** A part of a graph packed as one node. Its graph has the nodes `inputs-of:NAME` and `outputs-of:NAME`. */
export const capsuleSchema = z.looseObject({
  title: z.string().trim().min(1).max(60),
  about: z.string().max(300).default(""),
  inputs: z.array(capsuleInputSchema).max(200),
  outputs: z.array(capsuleOutputSchema).max(50),
  graph: graphSchema,
  /** What leaves it comes back in its node `before-of:NAME` at the next step: see capsules/step-loop.ts. */
  stepLoop: z.literal(true).optional(),
  /** Where it came from in the library, and which version it is. */
  library: z.looseObject({ id: z.string().min(1).max(64), version: z.int().min(1) }).optional(),
});

export const settingsSchema = z.looseObject({
  fps: finite.min(1).max(240),
  first: z.int().min(-1_000_000).max(1_000_000),
  last: z.int().min(-1_000_000).max(1_000_000),
  size: z.tuple([z.int().min(16).max(16384), z.int().min(16).max(16384)]),
  seed: z.int().min(0).max(0x7fffffff),
  loop: z.boolean().default(true),
});

export const assetSchema = z.looseObject({
  /** SHA-256 of the bytes, hexadecimal. */
  hash: z.string().regex(/^[0-9a-f]{64}$/, "must be a SHA-256 in hexadecimal"),
  /** File name as brought in; its ending tells the format. */
  file: z
    .string()
    .min(1)
    .max(255)
    .refine((name) => name === cleanFileName(name), "must be a plain file name, without a way to it"),
  bytes: z.int().min(0),
});

export const dialSchema = z.looseObject({
  label: z.string().min(1).max(80),
  /** The exposed input, written node.input. */
  input: portAddress,
  group: z.string().trim().min(1).max(60).optional(),
});

/** The values of dials at a moment that was worth keeping, by the inputs that they stand for. */
export const snapshotSchema = z.looseObject({
  name: z.string().trim().min(1).max(60),
  values: z.record(portAddress, settingSchema),
});

export const viewSchema = z.looseObject({
  position: z.tuple([finite, finite, finite]),
  target: z.tuple([finite, finite, finite]),
  /** Field of view from top to bottom, degrees; a small one is nearly without perspective. */
  angle: finite.min(1).max(120).optional(),
});

/** A small graph for a need, to be put into pieces. */
export const recipeSchema = z.looseObject({
  /** Needs that it serves, in plain words. */
  needs: z.array(z.string().trim().min(1).max(80)).max(40),
  /** Nodes that are left out where there is something to work on already. */
  base: z.array(identifier).default([]),
});

/** Words under which a piece is found on the shelf. */
export const tagsSchema = z.array(z.string().trim().min(1).max(40)).max(12);

export const documentSchema = z.looseObject({
  glemmo: z.int().min(1),
  name: z.string().min(1).max(120),
  about: z.string().max(300).default(""),
  tags: tagsSchema.optional(),
  /** How it is made, in paragraphs, for whoever wants to learn from it. */
  made: z.string().max(4000).optional(),
  settings: settingsSchema,
  graph: graphSchema,
  capsules: z.record(identifier, capsuleSchema).default({}),
  dials: z.array(dialSchema).max(MOST.dials).default([]),
  snapshots: z.array(snapshotSchema).max(MOST.snapshots).optional(),
  assets: z.record(identifier, assetSchema).default({}),
  /** Of a piece that is a recipe. */
  recipe: recipeSchema.optional(),
  /** Where the stage's camera stands. */
  view: viewSchema.optional(),
});

export type PieceDocument = z.infer<typeof documentSchema>;
export type GraphNode = z.infer<typeof nodeSchema>;
export type Key = z.infer<typeof keySchema>;
export type KeyEase = NonNullable<Key["ease"]>;
export type Track = z.infer<typeof trackSchema>;
export type KeptFit = NonNullable<GraphNode["fit"]>;
export type Link = z.infer<typeof linkSchema>;
export type Note = z.infer<typeof noteSchema>;
export type Graph = z.infer<typeof graphSchema>;
export type Capsule = z.infer<typeof capsuleSchema>;
export type CapsuleInput = z.infer<typeof capsuleInputSchema>;
export type CapsuleOutput = z.infer<typeof capsuleOutputSchema>;
export type Snapshot = z.infer<typeof snapshotSchema>;
export type PieceSettings = z.infer<typeof settingsSchema>;
export type AssetEntry = z.infer<typeof assetSchema>;
export type Dial = z.infer<typeof dialSchema>;
export type View = z.infer<typeof viewSchema>;

/** A new piece without nodes. */
export const blankDocument = (name: string): PieceDocument => ({
  glemmo: DOCUMENT_VERSION,
  name,
  about: "",
  settings: { fps: 25, first: 0, last: 199, size: [1920, 1080], seed: 1, loop: true },
  graph: { nodes: [], links: [] },
  capsules: {},
  dials: [],
  assets: {},
});
