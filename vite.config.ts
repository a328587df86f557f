import { reactRouter } from "@react-router/dev/vite";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [reactRouter()],
  environments: {
    ssr: { build: { rollupOptions: { input: "./app/server/platform/http.ts" } } },
  },
  // Rendering on the server needs the component library bundled: its packages mix module kinds.
  ssr: { noExternal: [/^antd/, /^@ant-design/, /^@rc-component/, /^@emotion/] },
});
