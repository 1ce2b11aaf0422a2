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

/** The page's side of it. */
export class ReceivedOnce<T> {
  private key = 0;
  value: T | null = null;

  /** @returns whether it is another one now */
  take(sent: Sent<T> | null): boolean {
    const key = sent?.key ?? 0;
    if (key === this.key || (sent && sent.value === undefined)) return false;
    this.key = key;
    this.value = sent?.value ?? null;
    return true;
  }
}
