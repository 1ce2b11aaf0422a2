/**
 * What is saved: the `.glemmo.json` document. Objects are open: what a newer version wrote and this one does
 * not know is kept on reading and written back. Links name ports as `node.port`.
 */
import { z } from "zod";
import type { Setting } from "../nodes/ports";

export const DOCUMENT_VERSION = 1;

/** Node ids, asset names: no dots, as links join them with ports by one. */
const identifier = z
  .string()
  .regex(/^[A-Za-z][A-Za-z0-9_-]{0,63}$/, "must be letters, digits, - or _ and begin with a letter");
const portAddress = z.string().regex(/^[^.]+\.[^.]+$/, "must be written node.port");
const finite = z.number().refine(Number.isFinite, "must be a finite number");
const settingSchema = z.json() as unknown as z.ZodType<Setting>;

export const nodeSchema = z.looseObject({
  id: identifier,
  type: z.string().min(1).max(64),
  at: z.tuple([finite, finite]),
  set: z.record(z.string(), settingSchema).default({}),
  /** Passes its first input on unchanged. */
  bypass: z.boolean().optional(),
});

export const linkSchema = z.looseObject({ from: portAddress, to: portAddress });

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
  file: z.string().min(1).max(255),
  bytes: z.int().min(0),
});

export const dialSchema = z.looseObject({
  label: z.string().min(1).max(80),
  /** The exposed input, written node.input. */
  input: portAddress,
});

export const viewSchema = z.looseObject({
  position: z.tuple([finite, finite, finite]),
  target: z.tuple([finite, finite, finite]),
  /** Field of view from top to bottom, degrees; a small one is nearly without perspective. */
  angle: finite.min(1).max(120).optional(),
});

/** Words under which a piece is found on the shelf. */
export const tagsSchema = z.array(z.string().trim().min(1).max(40)).max(12);

export const documentSchema = z.looseObject({
  glemmo: z.int().min(1),
  name: z.string().min(1).max(120),
  about: z.string().max(300).default(""),
  tags: tagsSchema.optional(),
  settings: settingsSchema,
  graph: z.looseObject({
    nodes: z.array(nodeSchema).max(5000),
    links: z.array(linkSchema).max(20_000),
  }),
  dials: z.array(dialSchema).max(500).default([]),
  assets: z.record(identifier, assetSchema).default({}),
  /** Where the stage's camera stands. */
  view: viewSchema.optional(),
});

export type PieceDocument = z.infer<typeof documentSchema>;
export type GraphNode = z.infer<typeof nodeSchema>;
export type Link = z.infer<typeof linkSchema>;
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
  dials: [],
  assets: {},
});
