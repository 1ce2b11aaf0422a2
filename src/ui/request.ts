/** Requests of the page: one wording for refusals and for a server that is away, and progress for large bodies. */

interface Faults {
  readonly faults?: readonly { readonly where?: string; readonly what: string }[];
}

export const AWAY = "The server does not answer. Try again when it is back.";

/** Where and what, one after the other. */
export const faultText = (answer: Faults | null): string =>
  answer?.faults?.map((f) => `${f.where ? `${f.where}: ` : ""}${f.what}`).join(" ") ||
  "The server refused it.";

/** The answer's JSON. @throws Error with a message for the designer */
export async function requestJson<T>(url: string, init?: RequestInit): Promise<T> {
  const response = await fetch(url, init).catch(() => {
    throw new Error(AWAY);
  });
  const answer = (await response.json().catch(() => null)) as (T & Faults) | null;
  if (!response.ok) throw new Error(faultText(answer));
  return answer as T;
}

/** `init` for sending a value as JSON. */
export const jsonBody = (method: "POST" | "PUT", value: unknown): RequestInit => ({
  method,
  headers: { "content-type": "application/json" },
  body: JSON.stringify(value),
});

export interface SendOptions {
  /** Part of the body that has left, 0…1. */
  readonly onProgress: (part: number) => void;
  readonly signal: AbortSignal;
}

/** The person stopped it. */
export class SendingStopped extends Error {}

/**
 * Posts a file with progress; fetch cannot tell how much of a body has left (Fetch standard, request streams aside).
 * @throws SendingStopped, or Error with a message for the designer
 */
export function sendFile<T>(url: string, body: Blob, { onProgress, signal }: SendOptions): Promise<T> {
  return new Promise((done, fail) => {
    const request = new XMLHttpRequest();
    request.open("POST", url);
    request.responseType = "json";
    request.upload.onprogress = (event) => event.lengthComputable && onProgress(event.loaded / event.total);
    request.onload = () =>
      request.status < 300
        ? done(request.response as T)
        : fail(new Error(faultText(request.response as Faults | null)));
    request.onerror = () => fail(new Error(AWAY));
    request.onabort = () => fail(new SendingStopped());
    signal.addEventListener("abort", () => request.abort());
    request.send(body);
  });
}
