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

/**
 * Leaves out of what browsers load how the component library makes its rules: they are made once, at build, and come as a
 * sheet (`scripts/antd-css.tsx`). The theme says so too (`zeroRuntime`), but only when the page runs: all of it would be sent.
 */
export function withoutStyles(): Plugin {
  return {
    name: "without-styles",
    apply: "build",
    applyToEnvironment: (environment) => environment.name === "client",
    transform: {
      filter: { id: /node_modules\/antd\/es\/[\w-]+\/style\// },
      handler(code) {
        const makesRules = [...nodesIn(this.parse(code) as unknown as Node)]
          .filter((node) => node.type === "CallExpression")
          .filter(({ callee }) => makers.includes((callee as Node).name as string))
          .flatMap((call) => (call.arguments as Node[]).slice(1, 2));
        let out = code;
        // From the end, so that the places of the earlier ones stay true.
        for (const { start, end } of makesRules.reverse())
          out = `${out.slice(0, start)}() => []${out.slice(end)}`;
        return { code: out, map: null };
      },
    },
  };
}
