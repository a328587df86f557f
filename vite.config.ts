import { reactRouter } from "@react-router/dev/vite";
import { defineConfig, type Plugin } from "vite";
import { pureSchemas } from "./scripts/lib/pureSchemas.ts";
import { withoutStyles } from "./scripts/lib/withoutStyles.ts";

/** The server has two doors, `index.js` and `worker.js`; the framework would call both by one name. */
const namedServerEntries: Plugin = {
  name: "named-server-entries",
  applyToEnvironment: (environment) => environment.name === "ssr",
  outputOptions: (options) => ({ ...options, entryFileNames: "[name].js" }),
};

export default defineConfig({
  plugins: [reactRouter(), pureSchemas(), withoutStyles(), namedServerEntries],
  environments: {
    client: {
      build: {
        rollupOptions: {
          // What nearly every page needs comes in two files: few to ask for, small together, and each evaluated in a task of its own.
          output: {
            codeSplitting: {
              groups: [
                {
                  name: "view",
                  test: /node_modules\/(react|react-dom|scheduler)\/|app\/viewLibrary\./,
                  priority: 1,
                },
                { name: "shell", test: /\.m?[jt]sx?$/, minShareCount: 46 },
              ],
            },
          },
          treeshake: {
            // The component library's parts do not say so of themselves: they do nothing by being imported.
            moduleSideEffects: [{ test: /node_modules\/@rc-component\//, sideEffects: false }],
          },
        },
      },
    },
    ssr: {
      build: {
        rollupOptions: {
          input: { index: "./app/server/platform/http.ts", worker: "./app/server/platform/workerTasks.ts" },
        },
      },
    },
  },
  // Rendering on the server needs the component library bundled: its packages mix module kinds.
  ssr: { noExternal: [/^antd/, /^@ant-design/, /^@rc-component/, /^@emotion/] },
});
