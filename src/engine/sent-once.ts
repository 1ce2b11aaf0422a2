/** A large thing that the page keeps: it crosses when it is another one, and by its number alone while it stays. */

export interface Sent<T> {
  readonly key: number;
  /** Only when the page does not have it yet. */
  readonly value?: T;
}

export class SentOnce<T> {
  private last: T | null = null;
  private key = 0;

  send(value: T | null): Sent<T> | null {
    const isNew = value !== null && value !== this.last;
    if (isNew) this.key++;
    this.last = value;
    return value && { key: this.key, ...(isNew ? { value } : {}) };
  }
}
