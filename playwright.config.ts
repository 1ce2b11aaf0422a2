import { defineConfig } from "@playwright/test";
import { CHROMIUM, CHROMIUM_ARGS, PAINTED_BY_SOFTWARE } from "./scripts/chromium";

const PORT = 4391;

export default defineConfig({
  testDir: "tests/e2e",
  timeout: 120_000,
  expect: { timeout: 30_000, toPass: { timeout: 30_000 } },
  workers: 1,
  retries: 0,
  reporter: [["list"], ["json", { outputFile: "test-results/e2e.json" }]],
  use: {
    baseURL: `http://127.0.0.1:${PORT}`,
    viewport: { width: 1280, height: 800 },
    // Painting is slow without a graphics card; a click waits for it.
    actionTimeout: 30_000,
    launchOptions: {
      executablePath: CHROMIUM,
      args: [...CHROMIUM_ARGS, PAINTED_BY_SOFTWARE],
    },
  },
  webServer: {
    // A database of its own, empty at the start.
    command: `rm -rf test-results/data && npx tsx src/server/fill-demo.ts && npx tsx tests/e2e/spare-heavy-pictures.ts && npx next start --hostname 127.0.0.1 --port ${PORT}`,
    env: { GLEMMO_DATA: "test-results/data" },
    url: `http://127.0.0.1:${PORT}/api/pieces`,
    timeout: 60_000,
    reuseExistingServer: false,
  },
});
