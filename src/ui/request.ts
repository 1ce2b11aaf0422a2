/** Requests of the page: one wording for refusals and for a server that is away, and progress for large bodies. */
import { faultsText } from "@/core/document/fault";

interface Faults {
  readonly faults?: readonly { readonly where?: string; readonly what: string }[];
}

export const AWAY = "The server does not answer. Try again when it is back.";

/** Where and what, one after the other. */
export const faultText = (answer: Faults | null): string =>
  faultsText(answer?.faults ?? []) || "The server refused it.";

export const CUT = "The server's answer was cut short. Try again.";

/** An answer with its JSON; null where there is none, or it was cut short. */
export interface Answer<T> {
  readonly ok: boolean;
  readonly status: number;
  readonly body: (T & Faults) | null;
}

export const readAnswer = async <T>(response: Response): Promise<Answer<T>> => ({
  ok: response.ok,
  status: response.status,
  body:
    response.status === NO_CONTENT ? null : ((await response.json().catch(() => null)) as Answer<T>["body"]),
});

const NO_CONTENT = 204;

/** The answer's JSON. @throws Error with a message for the designer */
export async function requestJson<T>(url: string, init?: RequestInit): Promise<T> {
  const response = await fetch(url, init).catch(() => {
    throw new Error(AWAY);
  });
  const { ok, status, body } = await readAnswer<T>(response);
  if (!ok) throw new Error(faultText(body));
  if (body === null && status !== NO_CONTENT) throw new Error(CUT);
  return body as T;
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
      request.status >= 300
        ? fail(new Error(faultText(request.response as Faults | null)))
        : request.response === null
          ? fail(new Error(CUT))
          : done(request.response as T);
    request.onerror = () => fail(new Error(AWAY));
    request.onabort = () => fail(new SendingStopped());
    request.send(file);
    showPart(0);
  });
  return answer.finally(() => show(null));
}
