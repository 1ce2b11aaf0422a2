/**
 * The server: Next's pages and route handlers, behind one look at who calls; and the background work of the database in a thread.
 * `serve.mjs --port N [--dev]`.
 */
import { createServer, type IncomingMessage, type ServerResponse } from "node:http";
import { parseArgs } from "node:util";
import { Worker } from "node:worker_threads";
import next from "next";
import { refusalOf } from "../caller";
import { programFile } from "../files";

const { values: options } = parseArgs({
  options: { port: { type: "string", default: "4310" }, dev: { type: "boolean", default: false } },
});
const HOST = "127.0.0.1";
const port = Number(options.port);
if (!Number.isInteger(port) || port < 1 || port > 65_535) {
  console.error(`"${options.port}" is no port; 1 to 65535 are.`);
  process.exit(2);
}

const app = next({ dev: options.dev, hostname: HOST, port });
await app.prepare();
const handle = app.getRequestHandler();
const upgrade = app.getUpgradeHandler();

const refusal = (request: IncomingMessage) =>
  refusalOf({
    method: request.method ?? "",
    address: request.url ?? "/",
    header: (name) => {
      const value = request.headers[name];
      return Array.isArray(value) ? value.join(", ") : value;
    },
  });

const server = createServer((request: IncomingMessage, response: ServerResponse) => {
  const refused = refusal(request);
  if (!refused) {
    void handle(request, response);
    return;
  }
  response.writeHead(refused.status, { "content-type": "application/json", connection: "close" });
  response.end(JSON.stringify({ faults: [{ what: refused.what }] }));
});
// A page asks every few seconds: a connection that is closed just as the next request comes would lose that. Node closes them after five.
server.keepAliveTimeout = 10 * 60_000;
server.headersTimeout = server.keepAliveTimeout + 1000;
server.on("upgrade", (request, socket, head) => {
  if (refusal(request)) socket.destroy();
  else void upgrade(request, socket, head);
});
server.on("error", (error: NodeJS.ErrnoException) => {
  console.error(
    error.code === "EADDRINUSE"
      ? `Port ${port} is taken: another program, perhaps Glemmo itself, is using it. Choose another one: --port N.`
      : error.message,
  );
  process.exit(1);
});
server.listen(port, HOST);

const background = new Worker(programFile("upkeep-thread"));
// The server goes on without it; what it does is done after the next start.
background.on("error", (error) => console.error(error));
background.unref();
