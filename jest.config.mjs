/** ES modules that Jest must translate; everything else in node_modules is CommonJS already. */
const MODULES = [
  "three",
  "@gltf-transform",
  "property-graph",
  "culori",
  "simplex-noise",
  "d3-ease",
  "d3-shape",
  "d3-path",
  "fast-png",
  "iobuffer",
  "fflate",
  "stemmer",
  "earcut",
  "gl-matrix",
  "clipper2-ts",
  "meshoptimizer",
  "d3-contour",
  "d3-array",
  "internmap",
];

const swc = [
  "@swc/jest",
  {
    jsc: {
      parser: { syntax: "typescript", tsx: true },
      target: "es2022",
      transform: { react: { runtime: "automatic" } },
    },
    module: { type: "commonjs" },
  },
];

export default {
  testEnvironment: "node",
  // Half of the time is waiting for processes and threads of their own.
  maxWorkers: "100%",
  testSequencer: "<rootDir>/scripts/slow-first.mjs",
  testMatch: ["<rootDir>/tests/{core,reference,server}/**/*.test.ts"],
  // Reached as arguments; as globals of a test they are some fifty times slower.
  sandboxInjectedGlobals:
    "Math Number Object Array Map Set Int32Array Uint32Array Float32Array Float64Array".split(" "),
  // Programs of Node that tests call as a user does.
  globalSetup: "<rootDir>/scripts/compile.mjs",
  setupFiles: ["<rootDir>/tests/own-data.ts", "<rootDir>/tests/small-arenas.ts"],
  moduleNameMapper: { "^@/(.*)$": "<rootDir>/src/$1" },
  transform: { "\\.(ts|tsx|js|mjs)$": swc },
  transformIgnorePatterns: [`/node_modules/(?!(${MODULES.join("|")})/)`],
  modulePathIgnorePatterns: ["<rootDir>/.next/"],
};
