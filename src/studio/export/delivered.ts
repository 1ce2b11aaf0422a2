/** What making something of many frames tells, and what comes of it. */

export interface Watch {
  readonly onFrame: (done: number, total: number) => void;
  readonly stopped: () => boolean;
}

export interface Delivered {
  /** Null when everything went into a folder, or nothing was made. */
  readonly blob: Blob | null;
  readonly done: number;
  readonly total: number;
}

/** Frames, or stretches of a film, that were made before, and where those that are made now are kept. */
export interface FrameFiles {
  get(frame: number): Promise<Uint8Array | undefined>;
  put(frame: number, bytes: Uint8Array): Promise<void>;
}
