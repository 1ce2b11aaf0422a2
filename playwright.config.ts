import { defineConfig } from "@playwright/test";
import { CHROMIUM, CHROMIUM_ARGS, PAINTED_BY_SOFTWARE } from "./scripts/chromium";

export default defineConfig({
  testDir: "tests/e2e",
  snapshotPathTemplate: "tests/e2e/pictures/{arg}{ext}",
  // Two pages that are drawn without a graphics card hold each other up, now and then for half a minute.
  timeout: 240_000,
  expect: { timeout: 60_000, toPass: { timeout: 60_000 } },
  globalSetup: "./tests/e2e/demo-data.ts",
  // A good part of a test is waiting.
  workers: 2,
  retries: 0,
  reporter: [["list"], ["json", { outputFile: "test-results/e2e.json" }]],
  use: {
    viewport: { width: 1280, height: 800 },
    // Painting is slow without a graphics card; a click waits for it.
    actionTimeout: 60_000,
    launchOptions: {
      executablePath: CHROMIUM,
      args: [...CHROMIUM_ARGS, PAINTED_BY_SOFTWARE],
    },
  },
});
