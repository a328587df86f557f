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

/** What the component library makes the styles of a component with; the second thing each is handed makes the rules. */
const makers = ["genStyleHooks", "genComponentStyleHook", "genSubStyleComponent"];

/** What puts a sheet into the page: the fifth thing that the library's one memory of what it made is handed. */
const memory = "useGlobalCache";

/** What the named functions are handed at a place, in a module as it stands. */
const handed = (module: Node, functions: readonly string[], place: number): Node[] =>
  [...nodesIn(module)]
    .filter((node) => node.type === "CallExpression")
    .filter(({ callee }) => functions.includes((callee as Node).name as string))
    .flatMap((call) => (call.arguments as Node[]).slice(place, place + 1));

function replaced(code: string, nodes: readonly Node[], by: string): { code: string; map: null } {
  let out = code;
  // From the end, so that the places of the earlier ones stay true.
  for (const { start, end } of nodes.toReversed()) out = `${out.slice(0, start)}${by}${out.slice(end)}`;
  return { code: out, map: null };
}

/**
 * Leaves out of what browsers load how the component library makes its rules and puts its variables into the page: they are made once, at
 * build, and come as sheets (`scripts/antd-css.tsx`). The theme says so too (`zeroRuntime`), but only when the page runs: all of it would be
 * sent, and the variables would be put in once more, one sheet for each kind of component, each time with all styles reckoned anew.
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
          return replaced(code, handed(this.parse(code) as unknown as Node, makers, 1), "() => []");
        },
      },
    },
    {
      name: "without-sheets",
      ...inBrowsers,
      transform: {
        filter: { id: /node_modules\/@ant-design\/cssinjs\/es\/hooks\// },
        handler(code) {
          return replaced(code, handed(this.parse(code) as unknown as Node, [memory], 4), "() => {}");
        },
      },
    },
  ];
}
