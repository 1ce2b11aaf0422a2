/** A server and a shelf of each worker's own: tests that run at the same time do not meet. */
import { cpSync, rmSync } from "node:fs";
import { test as base } from "@playwright/test";
import { DEMO_DATA } from "./demo-data";
import { startServer } from "./server";

export { expect, type Locator, type Page } from "@playwright/test";

const FIRST_PORT = 4391;

const dataOf = (index: number): string => `${DEMO_DATA}-${index}`;

/** The data folder of the server at an address. */
export const dataAt = (studio: string): string => dataOf(Number(new URL(studio).port) - FIRST_PORT);

export const test = base.extend<object, { studio: string }>({
  studio: [
    // biome-ignore lint/correctness/noEmptyPattern: Playwright reads from the pattern what is needed.
    async ({}, use, { parallelIndex }) => {
      const data = dataOf(parallelIndex);
      rmSync(data, { recursive: true, force: true });
      cpSync(DEMO_DATA, data, { recursive: true });
      const server = await startServer(FIRST_PORT + parallelIndex, data);
      await use(server.url);
      server.kill();
    },
    { scope: "worker", timeout: 120_000 },
  ],
  baseURL: ({ studio }, use) => use(studio),
});
