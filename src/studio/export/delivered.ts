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
