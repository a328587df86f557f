import "./working.css";
import { createElement, Fragment, type ReactNode, useEffect, useRef, useState } from "react";
import { formulaParts } from "../../core/quantity/formula";
import { type MathNode, plainMath, workingMath } from "../../core/quantity/workingMath";
import { Formula } from "./Formula";

/** A sign between two things, with room around it also where a line begins with it. */
const sign = (text: string) =>
  createElement("mo", { form: "infix", lspace: "0.25em", rspace: "0.25em" }, text);

/** An element of MathML, which the types of the page's elements do not know. */
const mml = (name: string, ...children: ReactNode[]) => createElement(name, null, ...children);

/** A word or a number. Text of its own kind would be taken for room between signs. */
const word = (text: string) => createElement("mi", { mathvariant: "normal" }, text);

const keyed = (nodes: readonly ReactNode[]) =>
  nodes.map((node, i) => (
    // A line never changes its pieces: it is another line.
    <Fragment key={i}>{node}</Fragment>
  ));

/** Words with their chemical formulas: the figures low. */
function words(text: string): ReactNode {
  const parts = formulaParts(text);
  if (parts.length === 1) return word(text);
  const nodes: ReactNode[] = [];
  for (let i = 0; i < parts.length; i++) {
    const [part, low] = [parts[i], parts[i + 1]];
    if (!part) continue;
    if (low?.low) {
      nodes.push(mml("msub", word(part.text), mml("mn", low.text)));
      i++;
    } else nodes.push(word(part.text));
  }
  return mml("mrow", ...keyed(nodes));
}

const row = (nodes: readonly MathNode[]) => mml("mrow", ...keyed(nodes.map(piece)));

/** What stands over or under a stroke, or above something, needs its brackets no longer. */
const bare = (nodes: readonly MathNode[]): ReactNode => {
  const [only] = nodes;
  return nodes.length === 1 && only?.is === "group" ? row(only.inner) : row(nodes);
};

function piece(node: MathNode): ReactNode {
  switch (node.is) {
    case "text":
      return words(node.text);
    case "operator":
      return sign(node.text);
    case "mark":
      return createElement("mo", { separator: "true", lspace: "0", rspace: "0" }, node.text);
    case "index":
      return mml("msub", word(node.letter), word(node.low));
    case "group":
      return mml("mrow", mml("mo", node.open), row(node.inner), mml("mo", node.close));
    case "fraction":
      return mml(
        "mfrac",
        bare(node.over),
        node.under.length === 1
          ? bare(node.under[0] ?? [])
          : mml(
              "mrow",
              ...keyed(node.under.flatMap((part, i) => (i > 0 ? [sign("·"), row(part)] : [row(part)]))),
            ),
      );
    case "power":
      return mml("msup", piece(node.base), bare([node.above]));
    case "root":
      // Drawn from its sign and a line: not every device has a font that knows how to build one.
      return mml("mrow", mml("mo", "√"), createElement("mrow", { className: "root" }, bare([node.of])));
  }
}

/** Where a long line may go on in the next: before what it equals, before what is added, and after a comma. */
function pieces(nodes: readonly MathNode[]): MathNode[][] {
  const found: MathNode[][] = [[]];
  for (const [i, node] of nodes.entries()) {
    const breaks = (node.is === "operator" && node.text !== "·") || nodes[i - 1]?.is === "mark";
    if (breaks && found.at(-1)?.length) found.push([]);
    found.at(-1)?.push(node);
  }
  return found;
}

/** A line of working as it is written by hand: what is divided over what it is divided by; a sentence as a sentence. */
function Line({ children }: { children: string }) {
  const nodes = workingMath(children);
  if (!nodes) return <Formula>{children}</Formula>;
  return keyed(
    pieces(nodes).map((part, i) => (
      <Fragment key={i}>
        {i > 0 ? " " : ""}
        {createElement("math", { displaystyle: "true", alttext: part.map(plainMath).join(" ") }, row(part))}
      </Fragment>
    )),
  );
}

/** How a number came about, line by line. A sum that is longer than the screen is moved by itself, by finger and by the arrow keys. */
export function Working({ lines }: { lines: readonly string[] }) {
  const list = useRef<HTMLOListElement>(null);
  const [wide, setWide] = useState(false);
  // biome-ignore lint/correctness/useExhaustiveDependencies: measured again when other lines stand there
  useEffect(() => {
    const { current } = list;
    if (current) setWide(current.scrollWidth > current.clientWidth);
  }, [lines]);
  return (
    <ol
      ref={list}
      className="working"
      aria-label="Working"
      // What scrolls must be reached by the keyboard; what does not is no stop on its way.
      tabIndex={wide ? 0 : undefined}
    >
      {[...new Set(lines)].map((line) => (
        <li key={line}>
          <Line>{line}</Line>
        </li>
      ))}
    </ol>
  );
}
