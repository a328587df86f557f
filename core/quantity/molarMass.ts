import { weightOf } from "./atomicWeights";
import { err, ok, type Result } from "./result";

/** How many atoms of each element a formula has. */
export type Composition = Readonly<Record<string, number>>;

const low = "₀₁₂₃₄₅₆₇₈₉";
const high = "⁰¹²³⁴⁵⁶⁷⁸⁹";

/** A formula as it may be typed or pasted: low figures, dots of hydrates and raised charges as plain ones. */
const plain = (text: string): string =>
  text
    .trim()
    .replace(/[₀-₉]/g, (d) => String(low.indexOf(d)))
    .replace(
      /([⁰¹²³⁴-⁹]*)([⁺⁻])/g,
      (_, count: string, sign: string) =>
        `^${[...count].map((d) => high.indexOf(d)).join("")}${sign === "⁺" ? "+" : "-"}`,
    )
    .replace(/[·∙•*]/g, ".")
    .replace(/[[{]/g, "(")
    .replace(/[\]}]/g, ")")
    .replace(/\s+/g, "")
    .replace(/[−–]/g, "-");

const add = (into: Record<string, number>, from: Composition, times: number): void => {
  for (const [element, count] of Object.entries(from)) into[element] = (into[element] ?? 0) + count * times;
};

class Unreadable extends Error {}

/** Reads one part of a formula, between the dots. */
function readPart(text: string): Composition {
  let at = 0;
  const number = (): number => {
    const digits = /^\d+/.exec(text.slice(at))?.[0] ?? "";
    at += digits.length;
    if (digits === "") return 1;
    if (Number(digits) === 0) throw new Unreadable("A count of 0 stands in it.");
    return Number(digits);
  };
  const group = (): Composition => {
    const found: Record<string, number> = {};
    while (at < text.length && text[at] !== ")") {
      if (text[at] === "(") {
        at++;
        const inner = group();
        if (text[at] !== ")") throw new Unreadable("A bracket is not closed.");
        at++;
        add(found, inner, number());
        continue;
      }
      const element = /^[A-Z][a-z]?/.exec(text.slice(at))?.[0];
      if (!element) throw new Unreadable(`“${text.slice(at)}” is not understood.`);
      if (weightOf(element) === undefined)
        throw new Unreadable(`${element} is no element that is known here.`);
      at += element.length;
      add(found, { [element]: 1 }, number());
    }
    return found;
  };
  const times = number();
  const whole = group();
  if (at < text.length) throw new Unreadable("A bracket closes that was not opened.");
  if (Object.keys(whole).length === 0) throw new Unreadable("A part of it is empty.");
  const scaled: Record<string, number> = {};
  add(scaled, whole, times);
  return scaled;
}

/**
 * How many atoms of each element a formula has: hydrates after `·`, `.` or `*`, brackets, and a charge that changes no mass.
 * Errors: `unreadable`. Check value: CuSO4·5H2O has 9 oxygen and 10 hydrogen.
 */
export function compositionOf(formula: string): Result<Composition> {
  const text = plain(formula).replace(/\^\d*[+-]$/, "");
  // The 4 of NH4+ counts atoms, the 2 of Ca2+ charges: of one element alone nobody can tell.
  const [, element, charge] = /^([A-Z][a-z]?)(\d+[+-])$/.exec(text) ?? [];
  if (element) return err("unreadable", `Write the charge as ${element}^${charge}.`);
  const bare = text.replace(/[+-]$/, "");
  if (bare === "") return err("unreadable", "Type a formula, like CuSO4·5H2O.");
  try {
    const all: Record<string, number> = {};
    for (const part of bare.split(".")) add(all, readPart(part), 1);
    return ok(all);
  } catch (error) {
    if (error instanceof Unreadable) return err("unreadable", `${error.message} Type it like CuSO4·5H2O.`);
    throw error;
  }
}

/** What one mole of a composition weighs, g/mol. Source: IUPAC atomic weights. Check value: CuSO4·5H2O is 249.68 g/mol. */
export const massOf = (composition: Composition): number =>
  Object.entries(composition).reduce((sum, [element, count]) => sum + (weightOf(element) ?? 0) * count, 0);
