/** Arrows point down only: areas → ui → server → core, and in the core from floor to floor. See docs/decisions/0001-layers.md. */

/** The floors of the core from the ground up; what stands on one floor may not know another folder of it. */
const floors = [
  ["quantity", "time"],
  ["reference"],
  ["judgement"],
  ["rules"],
  ["bench"],
  ["stock"],
  ["calibration"],
  ["methods"],
  ["runs"],
  ["samples"],
  ["readings"],
  ["results"],
  ["quality"],
  ["planner", "day"],
  ["simulation", "calculators"],
  ["testing"],
];
/** A test may play an instrument and use what helps to test, which stand above what they test. */
const forTests = ["simulation", "testing"];

const floorRules = floors.flatMap((floor, i) =>
  floor.flatMap((folder) => {
    const above = floors
      .slice(i)
      .flat()
      .filter((other) => other !== folder);
    const rule = (name, pathNot, path, forbidden) => ({
      name: `core-${folder}-knows-only-what-is-below${name}`,
      severity: "error",
      from: { path, ...(pathNot ? { pathNot } : {}) },
      to: { path: `^core/(${forbidden.join("|")})/` },
    });
    const inTests = above.filter((other) => !forTests.includes(other));
    return [
      ...(above.length ? [rule("", "\\.test\\.ts$", `^core/${folder}/`, above)] : []),
      ...(inTests.length ? [rule("-in-tests", null, `^core/${folder}/.*\\.test\\.ts$`, inTests)] : []),
    ];
  }),
);

module.exports = {
  forbidden: [
    ...floorRules,
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
      name: "ui-is-below-areas",
      severity: "error",
      from: { path: "^app/ui/" },
      to: { path: "^app/areas/" },
    },
    {
      name: "server-is-below-the-interface",
      severity: "error",
      from: { path: "^app/server/" },
      to: { path: "^app/(areas|ui)/" },
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
      to: { path: "^app/(areas|ui)/" },
    },
    {
      name: "scripts-use-no-interface",
      severity: "error",
      from: { path: "^scripts/" },
      to: { path: "^app/(areas|ui)/" },
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
