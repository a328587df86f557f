/** A line of working as what it says in mathematics: pieces in a row, with what stands over, under, above or below something. */
export type MathNode =
  | { is: "text"; text: string }
  | { is: "operator"; text: string }
  /** A comma or the like between clauses: no stroke reaches back over it. */
  | { is: "mark"; text: string }
  /** A letter with an index: `V1`, `P_sea`. `mark` is what stands between them in a plain line. */
  | { is: "index"; letter: string; low: string; mark: "" | "_" }
  | { is: "group"; open: string; inner: MathNode[]; close: string; space: boolean }
  | { is: "fraction"; over: MathNode[]; under: MathNode[][] }
  | { is: "power"; base: MathNode; above: MathNode }
  | { is: "root"; of: MathNode };

type Token = {
  kind: "word" | "operator" | "over" | "open" | "close" | "power" | "root" | "mark";
  text: string;
};
/** What was written with a space before it. */
type Spaced = Token & { space: boolean };

const closing: Record<string, string> = { "(": ")", "[": "]" };
/** Signs that stand between spaces; the same sign within a word belongs to the word (`NO3-N`, `mg/L`, `CuSO4·5H2O`). */
const operators = new Set(["=", "+", "−", "·", "±", "<", ">"]);

function tokensOf(line: string): Spaced[] {
  const tokens: Spaced[] = [];
  const runs = line.split(" ");
  for (const [at, run] of runs.entries()) {
    let space = at > 0;
    const put = (kind: Token["kind"], text: string) => {
      tokens.push({ kind, text, space });
      space = false;
    };
    if (run === "/") put("over", run);
    else if (operators.has(run)) put("operator", run);
    else
      for (const [part] of run.matchAll(/[()[\]]|\^|√|[,;:]$|(?:[^()[\]^√,;:]|[,;:](?!$))+/g)) {
        if (part in closing) put("open", part);
        else if (part === ")" || part === "]") put("close", part);
        else if (part === "^") put("power", part);
        else if (part === "√") put("root", part);
        else if (/^[,;:]$/.test(part) && at < runs.length - 1) put("mark", part);
        else put("word", part);
      }
  }
  return tokens;
}

const lettered = /^([A-Za-zκΛησ])(?:_([A-Za-z0-9]+)|(\d{1,2}))$/;

function wordOf(text: string): MathNode {
  const found = lettered.exec(text);
  if (!found?.[1]) return { is: "text", text };
  return found[2] === undefined
    ? { is: "index", letter: found[1], low: found[3] ?? "", mark: "" }
    : { is: "index", letter: found[1], low: found[2], mark: "_" };
}

class Reader {
  private at = 0;
  constructor(private readonly tokens: readonly Spaced[]) {}

  private get next(): Spaced | undefined {
    return this.tokens[this.at];
  }

  private take(): Spaced {
    return this.tokens[this.at++] as Spaced;
  }

  get done(): boolean {
    return this.at >= this.tokens.length;
  }

  /** One thing: a word, what is in brackets, a root; with what stands above it. Null where nothing of the kind follows. */
  private atom(): MathNode | null {
    const token = this.next;
    if (!token) return null;
    let node: MathNode;
    if (token.kind === "word") node = wordOf(this.take().text);
    else if (token.kind === "open") {
      const open = this.take();
      const inner = this.row();
      if (this.next?.kind !== "close" || this.next.text !== closing[open.text]) return null;
      node = { is: "group", open: open.text, inner, close: this.take().text, space: open.space };
    } else if (token.kind === "root") {
      this.take();
      const of = this.atom();
      if (!of) return null;
      node = { is: "root", of };
    } else return null;
    while (this.next?.kind === "power") {
      this.take();
      const above = this.atom();
      if (!above) return null;
      node = { is: "power", base: node, above };
    }
    return node;
  }

  /** What stands side by side without a sign: words of a sentence, a name and its brackets. */
  private factor(): MathNode[] {
    const nodes: MathNode[] = [];
    for (let token = this.next; token && "wordopenroot".includes(token.kind); token = this.next) {
      const spaced = token.space && nodes.length > 0;
      const node = this.atom();
      if (!node) break;
      const last = nodes.at(-1);
      if (last?.is === "text" && node.is === "text")
        nodes[nodes.length - 1] = { is: "text", text: `${last.text}${spaced ? " " : ""}${node.text}` };
      else {
        if (spaced && node.is !== "group") nodes.push({ is: "text", text: " " });
        nodes.push(node);
      }
    }
    return nodes;
  }

  /** Factors with their signs; what is divided stands over what it is divided by. */
  row(): MathNode[] {
    const whole: MathNode[] = [];
    let product: MathNode[] = [];
    for (let token = this.next; token && token.kind !== "close"; token = this.next) {
      if (token.kind === "mark") {
        whole.push(...product, { is: "mark", text: this.take().text });
        product = [];
      } else if (token.kind === "operator") {
        const { text } = this.take();
        const sign: MathNode = { is: "operator", text };
        // A product goes on; any other sign ends what a division reaches back to.
        if (text === "·" && product.length > 0) product.push(sign);
        else {
          whole.push(...product, sign);
          product = [];
        }
      } else if (token.kind === "over") {
        this.take();
        const under = this.factor();
        const last = product.at(-1);
        if (product.length === 1 && last?.is === "fraction") last.under.push(under);
        else product = [{ is: "fraction", over: product, under: [under] }];
      } else {
        const before = this.at;
        product.push(...this.factor());
        if (this.at === before) break;
      }
    }
    return [...whole, ...product];
  }
}

const spacedBrackets = ({ space }: { space: boolean }) => (space ? " " : "");

function plainRow(nodes: readonly MathNode[]): string {
  return nodes
    .map((node, i) => {
      const text = plainMath(node);
      if (node.is === "mark") return `${text} `;
      if (node.is === "operator") return `${i > 0 ? " " : ""}${text}${i < nodes.length - 1 ? " " : ""}`;
      return node.is === "group" && i > 0 && nodes[i - 1]?.is !== "operator"
        ? `${spacedBrackets(node)}${text}`
        : text;
    })
    .join("");
}

/** A piece as it stands in a plain line. */
export function plainMath(node: MathNode): string {
  switch (node.is) {
    case "text":
    case "operator":
    case "mark":
      return node.text;
    case "index":
      return `${node.letter}${node.mark}${node.low}`;
    case "group":
      return `${node.open}${plainRow(node.inner)}${node.close}`;
    case "fraction":
      return [plainRow(node.over), ...node.under.map(plainRow)].join(" / ");
    case "power":
      return `${plainMath(node.base)}^${plainMath(node.above)}`;
    case "root":
      return `√${plainMath(node.of)}`;
  }
}

const built = (nodes: readonly MathNode[]): boolean =>
  nodes.some(
    (n) => n.is === "fraction" || n.is === "power" || n.is === "root" || (n.is === "group" && built(n.inner)),
  );

/**
 * A line of working read as mathematics, to be set as it is written by hand: a stroke between spaces is a division, `^` and `√` are
 * what they are elsewhere, a sign within a word belongs to the word. Null where it is a sentence, or where its brackets do not
 * close: then the line stands as it is. Nothing of the line is lost: its pieces in plain give it back. Source: common practice.
 * Check value: `V1 = c2 · V2 / c1` is V₁ = (c₂ · V₂) over c₁.
 */
export function workingMath(line: string): MathNode[] | null {
  const reader = new Reader(tokensOf(line));
  const row = reader.row();
  if (!reader.done || !built(row) || plainRow(row) !== line) return null;
  return row;
}
