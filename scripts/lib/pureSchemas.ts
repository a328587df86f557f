import type { Plugin } from "vite";

interface Node {
  type: string;
  start: number;
  end: number;
  [key: string]: unknown;
}

/** The name an expression such as `z.object({}).strict()` begins with. */
function rootOf(node: Node): string | null {
  if (node.type === "Identifier") return node.name as string;
  const inner = node.type === "CallExpression" ? node.callee : node.object;
  return inner ? rootOf(inner as Node) : null;
}

const makesSchema = (init: Node | null | undefined) => {
  if (init?.type !== "CallExpression") return false;
  const root = rootOf(init);
  return root === "z" || (root?.endsWith("Schema") ?? false);
};

/**
 * Tells the bundler that making a schema does nothing but make it, so that a page which only uses a type or a sum of a
 * module is not sent the module's schemas, and the whole of the schema library with them.
 */
export function pureSchemas(): Plugin {
  return {
    name: "pure-schemas",
    apply: "build",
    enforce: "post",
    applyToEnvironment: (environment) => environment.name === "client",
    transform: {
      filter: { id: /\/(core|app)\/.*\.tsx?/, code: /\bz\.|Schema\b/ },
      handler(code) {
        const body = (this.parse(code) as unknown as { body: Node[] }).body;
        const inits = body
          .map((node) => (node.type === "ExportNamedDeclaration" ? (node.declaration as Node | null) : node))
          .flatMap((node) => (node?.declarations as { init?: Node | null }[] | undefined) ?? [])
          .map(({ init }) => init)
          .filter((init): init is Node => makesSchema(init));
        let out = code;
        // From the end, so that the places of the earlier ones stay true.
        for (const { start, end } of inits.reverse()) {
          out = `${out.slice(0, start)}/* @__PURE__ */ (() => ${out.slice(start, end)})()${out.slice(end)}`;
        }
        return { code: out, map: null };
      },
    },
  };
}
