import { readFileSync } from "node:fs";
import type { Plugin } from "vite";

interface Node {
  type: string;
  start: number;
  end: number;
  [key: string]: unknown;
}

function* nodesIn(node: Node): Generator<Node> {
  yield node;
  for (const value of Object.values(node)) {
    for (const child of [value].flat()) {
      if (typeof child === "object" && child !== null && "type" in child) yield* nodesIn(child as Node);
    }
  }
}

const calls = (module: Node, name: string): Node[] =>
  [...nodesIn(module)].filter(
    (node) => node.type === "CallExpression" && (node.callee as Node).name === name,
  );

/** What a module's default function does. Errors: throws where the library has none there any more. */
function bodyOfDefault(module: Node, id: string): Node {
  const found = [...nodesIn(module)].find((node) => node.type === "ExportDefaultDeclaration");
  const body = (found?.declaration as Node | undefined)?.body as Node | undefined;
  if (body?.type !== "BlockStatement") throw new Error(`${id} is not as the interface's build knows it.`);
  return body;
}

/** What the library reckons of our theme, as `scripts/antd-css.tsx` wrote it down. */
interface Reckoned {
  token: object;
  cssVar: { prefix: string; key: string };
}
const reckoned = (): Reckoned => JSON.parse(readFileSync("app/styles/antd.theme.generated.json", "utf8"));

/**
 * What stands in a browser in the place of what the library makes the styles of a component with: they name the theme's class, and that is
 * all.
 */
const standIns = (): Record<string, string> => ({
  genStyleHooks: `() => ["", ${JSON.stringify(reckoned().cssVar.key)}]`,
  genComponentStyleHook: `() => ""`,
  genSubStyleComponent: "() => null",
});

/** A module with some of its nodes replaced. */
function replaced(code: string, by: readonly (readonly [Node, string])[]): { code: string; map: null } {
  let out = code;
  // From the end, so that the places of the earlier ones stay true.
  for (const [{ start, end }, text] of by.toSorted(([a], [b]) => b.start - a.start))
    out = `${out.slice(0, start)}${text}${out.slice(end)}`;
  return { code: out, map: null };
}

/**
 * Leaves out of what browsers load how the component library makes its styles and reckons its theme: both are done once, at build
 * (`scripts/antd-css.tsx`), and come as sheets and a table. The theme says so too (`zeroRuntime`), but only when the page runs: all of it would
 * be sent, and reckoning five hundred variables would be the longest that a page is busy at its first visit.
 */
export function withoutStyles(): Plugin[] {
  const inBrowsers = {
    apply: "build",
    applyToEnvironment: (environment: { name: string }) => environment.name === "client",
  } as const;
  return [
    {
      name: "without-rules",
      ...inBrowsers,
      transform: {
        filter: { id: /node_modules\/antd\/es\/[\w-]+\/style\// },
        handler(code) {
          const module = this.parse(code) as unknown as Node;
          return replaced(
            code,
            Object.entries(standIns()).flatMap(([name, text]) =>
              calls(module, name).map((call) => [call, `(${text})`] as const),
            ),
          );
        },
      },
    },
    {
      name: "without-makers",
      ...inBrowsers,
      transform: {
        filter: { id: /node_modules\/antd\/es\/theme\/util\/genStyleUtils\.js/ },
        handler(code, id) {
          const [made] = calls(this.parse(code) as unknown as Node, "genStyleUtils");
          if (!made) throw new Error(`${id} is not as the interface's build knows it.`);
          const each = Object.entries(standIns()).map(([name, text]) => `${name}: () => ${text}`);
          return replaced(code, [[made, `{ ${each.join(", ")} }`]]);
        },
      },
    },
    {
      name: "without-icon-rules",
      ...inBrowsers,
      transform: {
        filter: { id: /node_modules\/antd\/es\/theme\/util\/useResetIconStyle\.js/ },
        handler: () => ({ code: "export default () => {};", map: null }),
      },
    },
    {
      name: "reckoned-theme",
      ...inBrowsers,
      transform: {
        filter: { id: /node_modules\/antd\/es\/theme\/useToken\.js/ },
        handler(code, id) {
          const { token, cssVar } = reckoned();
          const body = bodyOfDefault(this.parse(code) as unknown as Node, id);
          const known = `[undefined, ${JSON.stringify(token)}, "", undefined, ${JSON.stringify(cssVar)}, true]`;
          const changed = replaced(code, [[body, "{ return reckoned; }"]]);
          return { ...changed, code: `${changed.code}\nconst reckoned = ${known};\n` };
        },
      },
    },
  ];
}
