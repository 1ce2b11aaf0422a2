/**
 * Runs every check and ends with `N passed, N failed` for all of them together; with `quick`, what is worth running hour by
 * hour: types, Biome, wording, the Jest tests of what changed, and three interface tests.
 */
import { execFileSync, spawnSync } from "node:child_process";
import { existsSync, mkdirSync, readFileSync, rmSync } from "node:fs";
import { SLOW_TESTS } from "./slow-tests.mjs";

const WORDING = "../shared/tools/wording";
const WORDED = ["src", "docs", "README.md", "package.json", "tests", "bench", "scripts"];
const JEST_REPORT = "test-results/jest.json";
const E2E_REPORT = "test-results/e2e.json";

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
  const ok = run(title, command, args);
  if (ok) passed++;
  else failed++;
  return ok;
}

const npx = (title, ...args) => check(title, "npx", ["--no-install", ...args]);

function checkText() {
  if (existsSync(WORDING)) check("wording", WORDING, WORDED);
  npx("biome", "biome", "ci", "--error-on-warnings");
  npx("types", "tsc", "--noEmit", "-p", "tsconfig.json");
  npx("types of the core", "tsc", "--noEmit", "-p", "tsconfig.core.json");
}

/** @param args more words for Jest */
function jest(...args) {
  rmSync(JEST_REPORT, { force: true });
  const ok = run("jest", "npx", ["--no-install", "jest", "--json", `--outputFile=${JEST_REPORT}`, ...args]);
  if (existsSync(JEST_REPORT)) {
    const report = JSON.parse(readFileSync(JEST_REPORT, "utf8"));
    passed += report.numPassedTests;
    failed += report.numFailedTests + report.numRuntimeErrorTestSuites;
  } else if (!ok) failed++;
}

/** @param args more words for Playwright */
function playwright(...args) {
  const ok = run("playwright", "npx", ["--no-install", "playwright", "test", ...args]);
  if (!existsSync(E2E_REPORT)) {
    failed++;
    return;
  }
  const { stats } = JSON.parse(readFileSync(E2E_REPORT, "utf8"));
  passed += stats.expected;
  failed += stats.unexpected + stats.flaky;
  if (!ok && stats.unexpected + stats.flaky === 0) failed++;
}

function whole() {
  checkText();
  check("dependency rule", "node", ["scripts/dependency-rule.mjs"]);
  jest();
  if (check("build", "bash", ["-c", `rm -f .next/glemmo-built && ./run build`])) playwright();
  else failed++;
}

/** What is not committed; the last commit's changes when everything is. */
function sinceWhen() {
  const open = execFileSync("git", ["status", "--porcelain"]).length > 0;
  return open ? "--onlyChanged" : "--lastCommit";
}

function quick() {
  checkText();
  jest(sinceWhen(), "--passWithNoTests", "--testPathIgnorePatterns", ...SLOW_TESTS);
  console.log(`\n== left to the whole run: ${SLOW_TESTS.join(" ")}`);
  if (check("build", "./run", ["build"])) playwright("--grep", "@quick");
  else failed++;
}

rmSync("test-results", { recursive: true, force: true });
mkdirSync("test-results", { recursive: true });
console.log(`On Node ${process.versions.node}`);
if (process.argv[2] === "quick") quick();
else whole();
console.log(`\nOn Node ${process.versions.node}:`);
console.log(`${passed} passed, ${failed} failed`);
process.exitCode = failed === 0 ? 0 : 1;
