/** The few globals that browsers, workers and Node share and the core may use; it sees no others. */
declare const performance: { now(): number };
declare class TextEncoder {
  encode(text: string): Uint8Array;
}
declare class TextDecoder {
  constructor(label?: string, options?: { fatal?: boolean });
  decode(bytes: Uint8Array): string;
}
