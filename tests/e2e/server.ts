/** Glemmo's server as a process of its own. */
import { spawn } from "node:child_process";
import { openSync } from "node:fs";
import { expect } from "@playwright/test";

export interface Server {
  readonly url: string;
  /** The whole group of processes, with no chance to tidy up. */
  kill(): void;
}

/** Starts it on a folder of data and waits until it answers; what it prints goes to a file in test-results. */
export async function startServer(port: number, data: string): Promise<Server> {
  const url = `http://127.0.0.1:${port}`;
  const status = () =>
    fetch(`${url}/api/pieces`).then(
      (answer) => answer.status,
      () => 0,
    );
  if ((await status()) !== 0) throw new Error(`Port ${port} is taken, perhaps by a run that was cut off.`);
  const log = openSync(`test-results/server-${port}.log`, "a");
  const { pid } = spawn("node", ["build/node/serve.mjs", "--port", String(port)], {
    env: { ...process.env, GLEMMO_DATA: data },
    stdio: ["ignore", log, log],
    detached: true,
  });
  await expect.poll(status, { timeout: 60_000 }).toBe(200);
  return { url, kill: () => process.kill(-(pid as number), "SIGKILL") };
}
