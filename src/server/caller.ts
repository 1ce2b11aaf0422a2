/** Who may call the server, decided once, before anything else looks at a request. */

const LOCAL_HOST = /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/i;

export interface Refusal {
  readonly status: number;
  readonly what: string;
}

/** What every request says of itself. */
export interface Call {
  readonly method: string;
  /** Path and query as they came. */
  readonly address: string;
  header(name: string): string | undefined;
}

/** Null for those that may go on: the page's own, from this machine. */
export function refusalOf({ method, address, header }: Call): Refusal | null {
  const host = header("host") ?? "";
  // A name of another host that leads to this machine would let its pages read everything here (rebinding).
  if (!LOCAL_HOST.test(host))
    return { status: 403, what: `This server answers localhost only, not "${host}".` };
  const origin = header("origin");
  if (origin !== undefined && origin !== `http://${host}`)
    return { status: 403, what: `Calls from "${origin}" are refused.` };
  if (header("sec-fetch-site") === "cross-site" && header("sec-fetch-mode") !== "navigate")
    return { status: 403, what: "Calls from other sites are refused." };
  if (method === "TRACE" || method === "TRACK" || method === "CONNECT")
    return { status: 405, what: `"${method}" is not answered here.` };
  try {
    decodeURIComponent(address.split("?")[0]);
  } catch {
    return { status: 400, what: "The address has a % that begins no character." };
  }
  return null;
}
