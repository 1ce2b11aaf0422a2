/** How a request ends that cannot be done. */

export interface Fault {
  readonly where?: string;
  readonly what: string;
}

/** Ends a request with a status and `{ "faults": [{ where, what }] }`. */
export class HttpFault extends Error {
  readonly faults: readonly Fault[];

  constructor(
    readonly status: number,
    faults: string | readonly Fault[],
    readonly extra: Readonly<Record<string, unknown>> = {},
  ) {
    super(typeof faults === "string" ? faults : faults.map((f) => f.what).join(" "));
    this.faults = typeof faults === "string" ? [{ what: faults }] : faults;
  }
}
