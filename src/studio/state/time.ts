/**
 * What changes while a piece plays: a store of its own, so that a frame that is only drawn wakes nobody who looks at the piece.
 */
import { createStore, type StoreApi } from "zustand";
import type { FrameStates } from "@/engine/protocol";
import type { Gathered } from "../stage/gathering";
import type { RangeWork } from "./frame-words";
import type { TimeUnit } from "./playback";

export interface Time {
  readonly frame: number;
  readonly playing: boolean;
  /** Playing turns round at the ends of the range. */
  readonly toAndFro: boolean;
  /** Playing shows every frame, however long it takes, instead of keeping up with the clock. */
  readonly everyFrame: boolean;
  /** Frames a second that playing really shows; null while it keeps up. */
  readonly shownRate: number | null;
  /** How frames are told on the strip. */
  readonly timeUnit: TimeUnit;
  /** The frame that was worked out last, the milliseconds that it took and what all results hold; null before the first one. */
  readonly shown: { readonly frame: number; readonly ms: number; readonly bytes: number } | null;
  readonly busy: boolean;
  /** How far what is stepped from frame to frame has come, where it takes long. */
  readonly stepped: { readonly frame: number; readonly until: number } | null;
  /** How far frames of the range are; null while nothing is known. */
  readonly frameStates: FrameStates | null;
  /** How many looks at what is shown are gathered while the stage rests. */
  readonly gathered: Gathered | null;
  /** The range is being worked out. */
  readonly rangeWork: RangeWork | null;
}

export type TimeStore = StoreApi<Time>;

export const createTimeStore = (frame: number): TimeStore =>
  createStore<Time>(() => ({
    frame,
    playing: false,
    toAndFro: false,
    everyFrame: false,
    shownRate: null,
    timeUnit: "frames",
    shown: null,
    busy: false,
    stepped: null,
    frameStates: null,
    gathered: null,
    rangeWork: null,
  }));
