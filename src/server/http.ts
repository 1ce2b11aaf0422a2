/** What every route handler shares: who may call, how much they may send, how faults are told. */
import type { z } from "zod";
import { pathText } from "../core/document/read";

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

export const LIMITS = {
  /** A document. */
  document: 16 * 1024 * 1024,
  /** A file brought in. */
  asset: 256 * 1024 * 1024,
  /** A piece with its files. */
  bundle: 512 * 1024 * 1024,
  /** A shelf picture. */
  thumbnail: 4 * 1024 * 1024,
} as const;

const LOCAL_HOST = /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/;

/** Refuses other sites: a foreign Host (rebinding) or Origin (a page elsewhere calling us). */
export function checkCaller(request: Request): void {
  const host = request.headers.get("host") ?? "";
  if (!LOCAL_HOST.test(host)) throw new HttpFault(403, `This server answers localhost only, not "${host}".`);
  const origin = request.headers.get("origin");
  if (origin !== null && origin !== `http://${host}`)
    throw new HttpFault(403, `Calls from "${origin}" are refused.`);
  if (request.headers.get("sec-fetch-site") === "cross-site")
    throw new HttpFault(403, "Calls from other sites are refused.");
}

type Handler<P> = (request: Request, parameters: P) => Promise<Response> | Response;

/** Wraps a handler: checks the caller and turns faults into JSON. */
export const route =
  <P = Record<string, never>>(handler: Handler<P>) =>
  async (request: Request, context: { params: Promise<P> }): Promise<Response> => {
    try {
      checkCaller(request);
      return await handler(request, await context.params);
    } catch (error) {
      if (error instanceof HttpFault) {
        return Response.json({ faults: error.faults, ...error.extra }, { status: error.status });
      }
      console.error(error);
      return Response.json(
        { faults: [{ what: "The server failed unexpectedly; nothing was changed." }] },
        { status: 500 },
      );
    }
  };

/** The whole body, refused as soon as it passes the limit. */
export async function readBody(request: Request, limit: number): Promise<Uint8Array> {
  const tooLarge = () =>
    new HttpFault(413, `That is over the limit of ${Math.round(limit / 1024 / 1024)} MB.`);
  if (Number(request.headers.get("content-length") ?? 0) > limit) throw tooLarge();
  const chunks: Uint8Array[] = [];
  let size = 0;
  const reader = request.body?.getReader();
  for (;;) {
    const part = await reader?.read();
    if (!part || part.done) break;
    size += part.value.length;
    if (size > limit) {
      await reader?.cancel();
      throw tooLarge();
    }
    chunks.push(part.value);
  }
  const bytes = new Uint8Array(size);
  let at = 0;
  for (const chunk of chunks) {
    bytes.set(chunk, at);
    at += chunk.length;
  }
  return bytes;
}

/** A JSON body checked against a schema. */
export async function readJson<T>(request: Request, schema: z.ZodType<T>, limit: number): Promise<T> {
  const text = new TextDecoder().decode(await readBody(request, limit));
  let raw: unknown;
  try {
    raw = JSON.parse(text);
  } catch (error) {
    throw new HttpFault(400, `The body is not JSON: ${(error as Error).message}`);
  }
  const parsed = schema.safeParse(raw);
  if (!parsed.success) {
    throw new HttpFault(
      400,
      parsed.error.issues.map((i) => ({ where: pathText(i.path), what: i.message })),
    );
  }
  return parsed.data;
}
