/** Arrows go one way: studio, shelf, app -> engine, server -> core. */
const never = (name, from, to) => ({ name, severity: "error", from: { path: from }, to: { path: to } });

export default {
  forbidden: [
    never("core-stands-alone", "^src/core", "^src/(?!core)"),
    never(
      "core-knows-no-page",
      "^src/core",
      "node_modules/(react|react-dom|next|@xyflow|zustand|better-sqlite3|radix-ui)/",
    ),
    {
      name: "core-knows-no-node",
      severity: "error",
      from: { path: "^src/core" },
      to: { dependencyTypes: ["core"] },
    },
    never("engine-knows-core-only", "^src/engine", "^src/(?!core|engine)"),
    never("server-knows-core-only", "^src/server", "^src/(?!core|server)"),
    never("ui-stands-alone", "^src/ui", "^src/(?!core|ui)"),
    never("pages-keep-out-of-the-server", "^src/(studio|shelf)", "^src/server/(?!pieces|versions|capsules)"),
    {
      name: "no-circles",
      severity: "error",
      from: { path: "^src" },
      to: { circular: true },
    },
  ],
  options: {
    doNotFollow: { path: "node_modules" },
    exclude: { path: "^(\\.next|tests)" },
    enhancedResolveOptions: {
      exportsFields: ["exports"],
      conditionNames: ["import", "require", "default"],
    },
  },
};
