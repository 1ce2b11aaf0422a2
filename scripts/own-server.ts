/** A server with the demo pieces in a folder of its own, for scripts that take pictures. */
import { spawn } from "node:child_process";
import { rmSync } from "node:fs";

export interface OwnServer {
  readonly url: string;
  /** Ends it and forgets its data. */
  end(): void;
}

export async function serveOwnData(port: number, data: string): Promise<OwnServer> {
  rmSync(data, { recursive: true, force: true });
  const url = `http://127.0.0.1:${port}`;
  const answers = () =>
    fetch(`${url}/api/pieces`).then(
      ({ ok }) => ok,
      () => false,
    );
  if (await answers()) throw new Error(`Port ${port} is taken, perhaps by a run that was cut off.`);
  const serve = `node build/node/fill-demo.mjs && exec node build/node/serve.mjs --port ${port}`;
  const env = { ...process.env, GLEMMO_DATA: data };
  const { pid } = spawn("bash", ["-c", serve], { env, stdio: "ignore", detached: true });
  for (let i = 0; i < 60 && !(await answers()); i++) await new Promise((done) => setTimeout(done, 500));
  return {
    url,
    end() {
      if (pid) process.kill(-pid);
      rmSync(data, { recursive: true, force: true });
    },
  };
}
