import { z } from "zod";
import { formatSignificant } from "../quantity/format";
import { defineCalculator, type Warning } from "./define";

const amount = (title: string, unit: string) =>
  z.number().positive().max(1e9).optional().meta({ title, unit });
const names = ["c1", "v1", "c2", "v2"] as const;
type Name = (typeof names)[number];

/** From a factor of so much on, two steps are more exact than one small volume. */
const largestFactor = 100;
/** Less is poorly taken with a pipette, mL. */
const smallestVolume = 1;

/** Dilution. Check value: 100 mL of 50 mg/L from 1000 mg/L takes 5 mL. */
export const dilutionCalculator = defineCalculator({
  id: "dilution",
  title: "Dilution",
  purpose: "Any three of the two strengths and the two volumes give the fourth.",
  input: z.object({
    c1: amount("Strength of the stock", ""),
    v1: amount("Volume of the stock", "mL"),
    c2: amount("Strength wanted, in the same unit", ""),
    v2: amount("Final volume", "mL"),
  }),
  output: z.object({
    c1: z.number().positive(),
    v1: z.number().positive(),
    c2: z.number().positive(),
    v2: z.number().positive(),
    factor: z.number().min(1),
  }),
  sources: ["conservation of what is dissolved: c1 · V1 = c2 · V2"],
  example: { c1: 1000, c2: 50, v2: 100 },
  compute(input) {
    const missing = names.filter((n) => input[n] === undefined);
    const [wanted, more] = missing;
    if (more) {
      return {
        problems: [{ path: wanted ?? "c1", message: "Give three of the four; the fourth is worked out." }],
      };
    }
    if (!wanted) {
      return { problems: [{ path: "v1", message: "Leave the one empty that is to be worked out." }] };
    }
    const { c1 = 0, v1 = 0, c2 = 0, v2 = 0 } = input;
    const found: Record<Name, number> = {
      c1: (c2 * v2) / v1,
      v1: (c2 * v2) / c1,
      c2: (c1 * v1) / v2,
      v2: (c1 * v1) / c2,
    };
    const all = { c1, v1, c2, v2, [wanted]: found[wanted] };
    const factor = all.c1 / all.c2;
    if (factor < 1 - 1e-9) {
      const path = wanted === "c2" ? "v2" : "c2";
      return { problems: [{ path, message: "A dilution is never stronger than what it is made of." }] };
    }
    const warnings: Warning[] = [];
    if (factor > largestFactor) {
      warnings.push({
        code: "large-factor",
        message: `${formatSignificant(factor, 3)} times in one step is inexact: do it in two.`,
      });
    }
    if (all.v1 < smallestVolume) {
      warnings.push({
        code: "small-volume",
        message: `${formatSignificant(all.v1, 2)} mL is poorly taken with a pipette: make more, or dilute in two steps.`,
      });
    }
    const shown = (n: Name) => formatSignificant(all[n], 4);
    const formulas: Record<Name, string> = {
      c1: `c1 = c2 · V2 / V1 = ${shown("c2")} · ${shown("v2")} / ${shown("v1")} = ${shown("c1")}`,
      v1: `V1 = c2 · V2 / c1 = ${shown("c2")} · ${shown("v2")} / ${shown("c1")} = ${shown("v1")} mL`,
      c2: `c2 = c1 · V1 / V2 = ${shown("c1")} · ${shown("v1")} / ${shown("v2")} = ${shown("c2")}`,
      v2: `V2 = c1 · V1 / c2 = ${shown("c1")} · ${shown("v1")} / ${shown("c2")} = ${shown("v2")} mL`,
    };
    return {
      outputs: { ...all, factor: Math.max(1, factor) },
      working: [
        "c1 · V1 = c2 · V2",
        formulas[wanted],
        `Take ${shown("v1")} mL of the stock and make it up to ${shown("v2")} mL: diluted ${formatSignificant(factor, 4)} times.`,
      ],
      warnings,
    };
  },
});
