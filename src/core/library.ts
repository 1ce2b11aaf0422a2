/** Something that has to be loaded before a node can be worked out, which never waits: a library in WebAssembly, a face. */

export class Library {
  private loading: Promise<void> | null = null;
  private state: "missing" | "ready" = "missing";
  /** Why it could not be loaded, the last time that it was tried. */
  fault: string | null = null;

  /** @param title what it does, for messages: "shaping of text" */
  constructor(
    readonly title: string,
    private readonly work: () => Promise<void>,
  ) {}

  get isReady(): boolean {
    return this.state === "ready";
  }

  /** Loads it, once; what failed is tried again by the next call. Never rejects: what is wrong is told by `fault`. */
  load(): Promise<void> {
    this.loading ??= this.work().then(
      () => {
        this.state = "ready";
        this.fault = null;
      },
      (error: Error) => {
        this.loading = null;
        this.fault = error.message;
      },
    );
    return this.loading;
  }
}
