/** Messages between the page and the engine worker, each with the reply it gets. */
import type { PieceDocument } from "../core/document/schema";
import type { DrawDots, DrawLines } from "../core/draw/loose";
import type { MovedVertices } from "../core/draw/moving-mesh";
import type { TextureSheet } from "../core/draw/texture-sheet";
import type { DrawGeometry } from "../core/draw/triangulate";
import type { DrawVolume } from "../core/draw/volume-drawing";
import type { EvaluationReport } from "../core/evaluate/report";
import type { FrameFormat } from "../core/formats/write/write-frame";
import type { Bounds } from "../core/geometry/bounds";
import type { InputOverFrames, InputStatistics } from "../core/inspect/input-statistics";
import type { LoopGap } from "../core/inspect/loop";
import type { OverTime } from "../core/inspect/over-time";
import type { Followed, FollowQuery, TablePage, TableQuery } from "../core/inspect/table";
import type { Trace } from "../core/inspect/trace";
import type { LookUp } from "../core/maths/look-up";
import type { Picture } from "../core/maths/picture";
import type { CameraSettings } from "../core/nodes/dress/camera";
import type { FinishSettings } from "../core/nodes/dress/finish";
import type { LightSettings } from "../core/nodes/dress/light";
import type { Background, Floor, Setup } from "../core/nodes/route/stage";
import type { FrameRanges } from "./frame-ranges";
import type { Ledger } from "./ledger";
import type { Sent } from "./sent-once";

/** A batch on the wire: its mesh by key, so that each mesh crosses once. */
export interface WireBatch {
  readonly geometry: number;
  readonly count: number;
  /** 16 numbers a copy; shared memory where the page may read it. Empty when they are those shown before. */
  readonly matrices: Float32Array;
  /** 4 a copy, linear RGBA; the same holds. */
  readonly colors: Float32Array;
  /** What copies are made of; the same holds. Null where none says so. */
  readonly looks: Float32Array | null;
  readonly bounds: Bounds | null;
  /** Radius of the largest clone, units; infinite when it is not known. */
  readonly reach: number;
}

/** `outward`: where vertices grow for the line around the mesh, three numbers each; only when there are lines. */
export interface SentGeometry {
  readonly key: number;
  readonly geometry: DrawGeometry;
  readonly outward?: Float32Array;
}
export interface SentVertices {
  readonly key: number;
  readonly vertices: MovedVertices;
  readonly outward?: Float32Array;
}

export interface WireDrawing {
  readonly batches: readonly WireBatch[];
  /** Geometries that the drawing before did not have; those it had and this has not may be dropped. */
  readonly geometries: readonly SentGeometry[];
  /** Vertices of geometries that the page has, whose faces have stayed. */
  readonly moved: readonly SentVertices[];
  /** Ends of segments; `count` segments. */
  readonly lines?: DrawLines;
  readonly dots?: DrawDots;
  readonly volumes?: readonly DrawVolume[];
  readonly bounds: Bounds | null;
  readonly clones: number;
}

/** A camera, and the shape of the picture that it gives, its width to its height. */
export interface StageSight extends Omit<CameraSettings, "from"> {
  readonly picture: number;
}

/** What the stage node says beside the shape. */
export interface StageSettings {
  readonly background: readonly number[];
  readonly behind: Background;
  /** Linear: the colour high up, where there are two. */
  readonly above: readonly number[];
  readonly ground: boolean;
  readonly floor: Floor;
  /** Radians: where a curved sheet is open to. */
  readonly facing: number;
  /** Pixels; 0 for none. */
  readonly outline: number;
  readonly ink: readonly number[];
  /** Pixels across below which clones are drawn as discs; 0 for never. */
  readonly discs: number;
  readonly setup: Setup;
  /** Those of the piece. */
  readonly lights: readonly LightSettings[];
  /** What becomes of the picture of a frame; null where it stays as it is drawn. */
  readonly finish:
    | (Omit<FinishSettings, "lookUp"> & { readonly lookUp: Sent<LookUp> | null; readonly frame: number })
    | null;
  /** What is looked through at this frame; null where the piece has no camera. */
  readonly camera: StageSight | null;
  /** A surrounding picture (equirectangular). */
  readonly light: Sent<Picture> | null;
  /** Pictures that lie on surfaces. */
  readonly textures: Sent<TextureSheet> | null;
  /** Radians about the upright, and times its light. */
  readonly lightTurn: number;
  readonly lightPower: number;
}

/** How far frames of the piece are. */
export interface FrameStates {
  /** Need only be drawn. */
  readonly ready: FrameRanges;
  /** Were so before the last change. */
  readonly stale: FrameRanges;
  /** Frames whose states are on disk: they are gone on from after a reload. */
  readonly disk: FrameRanges;
  /** Why nothing more is written to disk, in words. */
  readonly fault: string | null;
  readonly memory: Ledger;
}

export interface ExportRequest {
  readonly format: FrameFormat;
  readonly copies: "instanced" | "baked";
}

/** One output of a node, by the its path. */
export interface Peek {
  readonly node: string;
  readonly port: string;
}

/** A question about a result, and what it is answered with; null when there is nothing to answer. */
export interface Queries {
  /** Copies that were pointed at on the stage, and the element that the first of them is which is one. */
  readonly pick: {
    readonly ask: readonly { readonly geometry: number; readonly copy: number }[];
    readonly answer: number;
  };
  readonly trace: {
    readonly ask: {
      readonly node: string;
      readonly port: string;
      readonly index: number;
      readonly id: number | null;
    };
    readonly answer: Trace;
  };
  readonly table: { readonly ask: TableQuery; readonly answer: TablePage };
  readonly csv: { readonly ask: Omit<TableQuery, "from" | "count">; readonly answer: string };
  readonly followed: { readonly ask: FollowQuery; readonly answer: Followed };
  /** What arrives at a number input, or leaves by an output, over frames. */
  readonly "input-statistics": {
    readonly ask: InputOverFrames & { readonly frames: readonly number[] };
    readonly answer: InputStatistics;
  };
  /** How far the frame after the last is from the first; null when either fails. */
  readonly loop: {
    readonly ask: { readonly first: number; readonly last: number };
    readonly answer: LoopGap;
  };
  /** The two frames from the first to the one after the last that are the most alike, and how far they are apart. */
  readonly pair: {
    readonly ask: { readonly first: number; readonly last: number };
    readonly answer: { readonly first: number; readonly second: number; readonly gap: LoopGap };
  };
  /** The ways of elements that reach the stage: ends of segments, three numbers each. */
  readonly paths: {
    readonly ask: { readonly frames: readonly number[] };
    readonly answer: Float32Array;
  };
  /** Numbers of one element, and of all at its port, over frames. */
  readonly "over-time": {
    readonly ask: {
      readonly node: string;
      readonly port: string;
      readonly id: number;
      readonly frames: readonly number[];
    };
    readonly answer: OverTime;
  };
}
export type QueryKind = keyof Queries;
export type AnyQuery = { [K in QueryKind]: { readonly kind: K; readonly ask: Queries[K]["ask"] } }[QueryKind];

export type ToEngine =
  /** No reply. `cancel` holds the id of the newest request: older ones stop. */
  | {
      readonly type: "setup";
      readonly cancel: SharedArrayBuffer | null;
      /** The file in which states of other frames are kept; null for none. */
      readonly disk: string | null;
    }
  /** No reply. The piece that requests are about from now on. */
  | { readonly type: "piece"; readonly document: PieceDocument }
  /** No reply. The page shows nothing any more: the next drawing is to be whole. */
  | { readonly type: "cleared" }
  /** No reply. Arrays of a drawing that the page has done with. */
  | { readonly type: "recycle"; readonly arrays: readonly Float32Array[] }
  /** Reply: `evaluated` or `cancelled` with the same id. */
  | {
      readonly type: "evaluate";
      readonly id: number;
      readonly frame: number;
      readonly inspect: boolean;
      /** Shown instead of the result. */
      readonly peek: Peek | null;
      /** Meshes are drawn with where they lie on pictures. */
      readonly laid: boolean;
      /** Seconds by which what is drawn is moved on along its velocities. */
      readonly drift: number;
      /** Milliseconds after which it gives up by itself. */
      readonly timeLimit?: number;
    }
  /** Reply: `answered` or `failed` with the same id. */
  | { readonly type: "query"; readonly id: number; readonly frame: number; readonly query: AnyQuery }
  /** Reply: `exported` or `failed` with the same id. */
  | {
      readonly type: "export";
      readonly id: number;
      readonly frame: number;
      readonly request: ExportRequest;
    }
  /** Works a frame out without showing it, so that it need only be drawn later. Reply: `prepared`, `cancelled` or `failed`. */
  | { readonly type: "prepare"; readonly id: number; readonly frame: number }
  /** Adds a frame to an animation that is begun with the first. Reply: `exported` without bytes, or `failed`. */
  | {
      readonly type: "animate";
      readonly id: number;
      readonly frame: number;
      readonly seconds: number;
      readonly begin: boolean;
    }
  /** Ends the animation. Reply: `exported` with its file, or `failed`. */
  | { readonly type: "animated"; readonly id: number };

export type FromEngine =
  | {
      readonly type: "evaluated";
      readonly id: number;
      readonly report: EvaluationReport;
      /** Missing when the result failed or is the one sent last. */
      readonly drawing?: WireDrawing;
      readonly stage?: StageSettings;
    }
  /** How far a running evaluation has stepped; its reply follows. */
  | { readonly type: "stepped"; readonly id: number; readonly frame: number; readonly until: number }
  | { readonly type: "cancelled"; readonly id: number }
  /** Why not, in words, when the frame could not be worked out. */
  | { readonly type: "prepared"; readonly id: number; readonly fault: string | null }
  /** Not an answer: sent now and then while frames are worked out. */
  | { readonly type: "frames"; readonly frames: FrameStates }
  | { readonly type: "exported"; readonly id: number; readonly bytes: Uint8Array<ArrayBuffer> }
  | { readonly type: "answered"; readonly id: number; readonly answer: Queries[QueryKind]["answer"] | null }
  | { readonly type: "failed"; readonly id: number; readonly what: string };
