/** Fills a folder with the demo data once, before all tests; each worker takes a copy (own-studio.ts). */
import { execFileSync } from "node:child_process";
import { rmSync } from "node:fs";

export const DEMO_DATA = "test-results/data";

export default function fillDemoData(): void {
  rmSync(DEMO_DATA, { recursive: true, force: true });
  const env = { ...process.env, GLEMMO_DATA: DEMO_DATA };
  execFileSync("node", ["build/node/fill-demo.mjs"], { env, stdio: "inherit" });
  execFileSync("npx", ["tsx", "tests/e2e/spare-pictures.ts"], { env, stdio: "inherit" });
}
