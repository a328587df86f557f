import { describe, expect, it } from "vitest";
import { type MathNode, workingMath } from "./workingMath";

/** The structure in brackets of its own: what is over and under, above, below a root. */
const shape = (nodes: readonly MathNode[]): string =>
  nodes
    .map((n) => {
      if (n.is === "fraction") return `frac{${shape(n.over)}}{${n.under.map(shape).join(" × ")}}`;
      if (n.is === "power") return `${shape([n.base])}^{${shape([n.above])}}`;
      if (n.is === "root") return `root{${shape([n.of])}}`;
      if (n.is === "group") return `${n.open}${shape(n.inner)}${n.close}`;
      if (n.is === "index") return `${n.letter}_{${n.low}}`;
      return n.text;
    })
    .join("");
const read = (line: string) => {
  const nodes = workingMath(line);
  return nodes && shape(nodes);
};

describe("a line of working as mathematics", () => {
  it("sets what is divided over what it is divided by", () => {
    expect(read("V1 = c2 · V2 / c1 = 50.00 · 100.0 / 1000 = 5.000 mL")).toBe(
      "V_{1}=frac{c_{2}·V_{2}}{c_{1}}=frac{50.00·100.0}{1000}=5.000 mL",
    );
    expect(read("c = 1000 · density · percent / 100 / M")).toBe("c=frac{1000·density·percent}{100 × M}");
    expect(read("9.10 / 10.06 · 100 = 90.5 %")).toBe("frac{9.10}{10.06}·100=90.5 %");
    expect(read("R = (a · V + b) / (v · c)")).toBe("R=frac{(a·V+b)}{(v·c)}");
  });

  it("keeps a stroke without spaces where it is", () => {
    expect(read("κ25 = 412.0 mg/L · 2 / 3")).toBe("κ_{25}=frac{412.0 mg/L·2}{3}");
    expect(read("k = 57.08 mV/pH")).toBeNull();
  });

  it("reads powers, roots and indices", () => {
    expect(read("P = P_sea · (1 − h)^5.25588")).toBe("P=P_{sea}·(1−h)^{5.25588}");
    expect(read("s = √(Σ d² / (2 · n))")).toBe("s=root{(frac{Σ d²}{(2·n)})}");
  });

  it("divides nothing that stands in another clause", () => {
    expect(read("u² = (a · b)², in a product y · u / x")).toBe("u²=(a·b)²,frac{in a product y·u}{x}");
    expect(read("pKa = 1 + 2729.92 / T; share = 1 / (1 + b)")).toBe(
      "pKa=1+frac{2729.92}{T};share=frac{1}{(1+b)}",
    );
  });

  it("leaves sentences and what does not close as they are", () => {
    expect(read("verdict: sound")).toBeNull();
    expect(read("c = (a / b")).toBeNull();
    expect(read("a) = b / c")).toBeNull();
    expect(read("")).toBeNull();
  });
});
