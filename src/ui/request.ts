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

/** A file on its way, for showing. */
export interface Sending {
  readonly file: string;
  /** How much of it has left, 0…1. */
  readonly part: number;
  readonly stop: () => void;
}

/** The person stopped it. */
export class SendingStopped extends Error {}

/**
 * Posts a file (its name as `?file=`) and shows how far it is, null at the end; fetch cannot tell how much of a body
 * has left (Fetch standard, request streams aside).
 * @throws SendingStopped, or Error with a message for the designer
 */
export function sendFile<T>(url: string, file: File, show: (sending: Sending | null) => void): Promise<T> {
  const request = new XMLHttpRequest();
  const showPart = (part: number) => show({ file: file.name, part, stop: () => request.abort() });
  const answer = new Promise<T>((done, fail) => {
    request.open("POST", `${url}?file=${encodeURIComponent(file.name)}`);
    request.responseType = "json";
    request.upload.onprogress = (event) => event.lengthComputable && showPart(event.loaded / event.total);
    request.onload = () =>
      request.status < 300
        ? done(request.response as T)
        : fail(new Error(faultText(request.response as Faults | null)));
    request.onerror = () => fail(new Error(AWAY));
    request.onabort = () => fail(new SendingStopped());
    request.send(file);
    showPart(0);
  });
  return answer.finally(() => show(null));
}
