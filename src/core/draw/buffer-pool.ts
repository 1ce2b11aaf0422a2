/**
 * Large arrays that come back when what they held has been shown. Fresh memory costs the system more than writing it
 * does, so a frame takes what the frame before last gave back.
 */

/** Buffers kept at most; a drawing has a few batches, and two drawings are on their way at a time. */
const MOST = 16;

export class BufferPool {
  private readonly idle: ArrayBuffer[] = [];

  /** An array of so many numbers, holding whatever it held before. */
  take(length: number): Float32Array<ArrayBuffer> {
    const at = this.idle.findIndex((buffer) => buffer.byteLength === length * 4);
    return at < 0 ? new Float32Array(length) : new Float32Array(this.idle.splice(at, 1)[0]);
  }

  give(buffer: ArrayBuffer): void {
    if (buffer.byteLength === 0) return;
    this.idle.push(buffer);
    if (this.idle.length > MOST) this.idle.shift();
  }
}
