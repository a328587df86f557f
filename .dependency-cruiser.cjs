/** Arrows point down only: areas → shared → server → core. See docs/decisions/0001-layers.md. */
module.exports = {
  forbidden: [
    {
      name: "no-circular",
      severity: "error",
      from: {},
      to: { circular: true, dependencyTypesNot: ["type-only"] },
    },
    {
      name: "core-stands-alone",
      comment:
        "core knows no interface, no server, no database and no Node; it may use zod and temporal-polyfill",
      severity: "error",
      from: { path: "^core/", pathNot: "\\.test\\.ts$" },
      to: { pathNot: ["^core/", "^node_modules/(zod|temporal-polyfill)/"] },
    },
    {
      name: "areas-do-not-import-each-other",
      severity: "error",
      from: { path: "^app/areas/([^/]+)/" },
      to: { path: "^app/areas/", pathNot: "^app/areas/$1/" },
    },
    {
      name: "shared-is-below-areas",
      severity: "error",
      from: { path: "^app/shared/" },
      to: { path: "^app/areas/" },
    },
    {
      name: "server-is-below-the-interface",
      severity: "error",
      from: { path: "^app/server/" },
      to: { path: "^app/(areas|shared)/" },
    },
    {
      name: "demo-is-above-the-server",
      comment: "the server runs without the demo's story",
      severity: "error",
      from: { path: "^(app|core)/", pathNot: "\\.test\\.ts$" },
      to: { path: "^demo/" },
    },
    {
      name: "demo-uses-no-interface",
      severity: "error",
      from: { path: "^demo/" },
      to: { path: "^app/(areas|shared)/" },
    },
    {
      name: "scripts-use-no-interface",
      severity: "error",
      from: { path: "^scripts/" },
      to: { path: "^app/(areas|shared)/" },
    },
  ],
  options: {
    doNotFollow: { path: "node_modules" },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: "tsconfig.json" },
    exclude: { path: "(^build/|\\.react-router/)" },
    enhancedResolveOptions: {
      exportsFields: ["exports"],
      conditionNames: ["import", "require", "node", "default"],
    },
  },
};
