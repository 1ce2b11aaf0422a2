/** What every route handler shares: how much callers may send, how faults are told. Who may call is decided before (caller.ts). */
import type { z } from "zod";
import { faultOf } from "../core/document/schema-fault";
import { serverFaultOf } from "./database-fault";
import { HttpFault } from "./http-fault";
import { DamagedPiece } from "./pieces";

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

type Handler<P> = (request: Request, parameters: P) => Promise<Response> | Response;

/** A disk that is full has a status of its own (RFC 4918 § 11.5). */
const STATUSES = { full: 507, busy: 503, closed: 500, damaged: 500 } as const;

/** A fault that has words; null for what was not foreseen. */
function foreseen(error: unknown): HttpFault | null {
  if (error instanceof HttpFault) return error;
  if (error instanceof DamagedPiece) return new HttpFault(410, error.message, { damaged: true });
  const fault = serverFaultOf(error);
  return fault && new HttpFault(STATUSES[fault.trouble], fault.message, { trouble: fault.trouble });
}

/** Wraps a handler: turns faults into JSON. */
export const route =
  <P = Record<string, never>>(handler: Handler<P>) =>
  async (request: Request, context: { params: Promise<P> }): Promise<Response> => {
    try {
      return await handler(request, await context.params);
    } catch (error) {
      const fault = foreseen(error);
      if (fault) return Response.json({ faults: fault.faults, ...fault.extra }, { status: fault.status });
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
      parsed.error.issues.map((issue) => faultOf(issue, raw)),
    );
  }
  return parsed.data;
}
