/** Runs every check and ends with `N passed, N failed` for all of them together. */
import { spawnSync } from "node:child_process";
import { existsSync, mkdirSync, readFileSync, rmSync } from "node:fs";

rmSync("test-results", { recursive: true, force: true });
mkdirSync("test-results", { recursive: true });

let passed = 0;
let failed = 0;

function run(title, command, args) {
  console.log(`\n== ${title}`);
  const begun = Date.now();
  const { status } = spawnSync(command, args, { stdio: "inherit" });
  console.log(
    `== ${title}: ${status === 0 ? "ok" : "failed"}, ${((Date.now() - begun) / 1000).toFixed(0)} s`,
  );
  return status === 0;
}

/** A check that is one thing: it passes or fails. */
function check(title, command, args) {
  if (run(title, command, args)) passed++;
  else failed++;
}

const npx = (title, ...args) => check(title, "npx", ["--no-install", ...args]);

if (existsSync("../shared/tools/wording")) {
  check("wording", "../shared/tools/wording", [
    "src",
    "docs",
    "README.md",
    "package.json",
    "tests",
    "bench",
    "scripts",
  ]);
}
npx("biome", "biome", "ci", "--error-on-warnings");
npx("types", "tsc", "--noEmit", "-p", "tsconfig.json");
npx("types of the core", "tsc", "--noEmit", "-p", "tsconfig.core.json");
check("dependency rule", "node", ["scripts/dependency-rule.mjs"]);

const jestReport = "test-results/jest.json";
const jestOk = run("jest", "npx", ["--no-install", "jest", "--json", `--outputFile=${jestReport}`]);
if (existsSync(jestReport)) {
  const report = JSON.parse(readFileSync(jestReport, "utf8"));
  passed += report.numPassedTests;
  failed += report.numFailedTests + report.numRuntimeErrorTestSuites;
} else if (!jestOk) failed++;

const built = run("build", "bash", [
  "-c",
  "npx --no-install next build > test-results/build.log 2>&1 && touch .next/glemmo-built || { cat test-results/build.log; exit 1; }",
]);
if (built) passed++;
else failed++;

const e2eReport = "test-results/e2e.json";
const e2eOk = built && run("playwright", "npx", ["--no-install", "playwright", "test"]);
if (existsSync(e2eReport)) {
  const { stats } = JSON.parse(readFileSync(e2eReport, "utf8"));
  passed += stats.expected;
  failed += stats.unexpected + stats.flaky;
  if (!e2eOk && stats.unexpected + stats.flaky === 0) failed++;
} else failed++;

console.log(`\n${passed} passed, ${failed} failed`);
process.exitCode = failed === 0 ? 0 : 1;
