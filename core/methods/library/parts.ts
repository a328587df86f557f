import type { z } from "zod";
import type { ColourStep, Method, methodSchema } from "../method";

/** A method as it is written down: what has a default may be left out. */
export type MethodInput = z.input<typeof methodSchema>;
type StepInput = MethodInput["steps"][number];

/** Builders for the steps of the library, so that each method reads like its card. */
export const step = {
  act: (
    id: string,
    text: string,
    hands_s: number,
    more: { once?: boolean; rinses?: number } = {},
  ): StepInput => ({
    kind: "do",
    id,
    text,
    hands_s,
    ...more,
  }),
  add: (
    id: string,
    material: string,
    amount: number,
    unit: string,
    text: string,
    hands_s: number,
  ): StepInput => ({
    kind: "add",
    id,
    material,
    amount,
    unit,
    text,
    hands_s,
  }),
  mix: (id: string, seconds: number, text: string): StepInput => ({
    kind: "mix",
    id,
    seconds,
    text,
    hands_s: seconds,
  }),
  /** Read at this moment, give or take the window. */
  exact: (id: string, from: string, seconds: number, window_s: number, text: string): StepInput => ({
    kind: "wait",
    id,
    from,
    exact: true,
    seconds,
    window_s,
    text,
  }),
  /** At least so long; a colour that fades says until when. */
  least: (
    id: string,
    from: string,
    seconds: number,
    text: string,
    more: { max_s?: number; cold?: boolean } = {},
  ): StepInput => ({
    kind: "wait",
    id,
    from,
    exact: false,
    seconds,
    window_s: 0,
    max_s: more.max_s ?? null,
    cold: more.cold ? {} : null,
    text,
  }),
  blank: (id: string, text: string, hands_s: number): StepInput => ({
    kind: "blank",
    id,
    text,
    hands_s,
    once: true,
  }),
  read: (id: string, text: string, hands_s: number, pad: string | null = null): StepInput => ({
    kind: "read",
    id,
    text,
    hands_s,
    pad,
  }),
  dispose: (text: string): StepInput => ({ kind: "dispose", id: "dispose", text, hands_s: 20, once: true }),
};

/** A scale from pale to strong, its lightness falling from step to step so that its order is clear without hue. */
export function scaleOf(values: readonly number[], pale: string, strong: string): ColourStep[] {
  const channel = (hex: string, i: number) => Number.parseInt(hex.slice(1 + 2 * i, 3 + 2 * i), 16);
  return values.map((value, k) => {
    const share = values.length === 1 ? 1 : k / (values.length - 1);
    const parts = [0, 1, 2].map((i) => {
      const mixed = channel(pale, i) + share * (channel(strong, i) - channel(pale, i));
      return Math.round(mixed).toString(16).padStart(2, "0");
    });
    return { value, colour: `#${parts.join("")}` };
  });
}

export const protection = {
  basic: ["Gloves and goggles", "Wash your hands afterwards"],
  acid: [
    "Gloves and goggles that keep out acid",
    "Water at hand to rinse skin and eyes",
    "Wash your hands afterwards",
  ],
  glass: ["Gloves and goggles: the tip is sharp", "A container for broken glass at hand"],
} as const;

const safety = "Follow the safety sheet, local waste rules and the site's own procedures.";

export const hazards = {
  none: ["No hazardous reagents. Unknown water may still carry germs.", safety],
  reagents: ["The reagents irritate skin and eyes.", safety],
  oxygen: [
    "Sulfuric acid burns. Acid into the sample slowly, never the other way round.",
    "Azide is toxic, and with acid outside this procedure it gives off a toxic gas.",
    "Alkaline iodide burns.",
    safety,
  ],
  acid: ["Dilute acid irritates skin and eyes.", safety],
  mercury: ["Mercury compounds are toxic and harm water life: collect every drop.", safety],
  silver: ["Silver nitrate stains and irritates; chromate is toxic and may cause cancer.", safety],
  ampoule: [
    "Broken glass: snap the tip under water, away from your face.",
    "The reagent irritates skin and eyes.",
    safety,
  ],
} as const;

export const published = (source: string): Method["provenance"] => ({ kind: "published", source });
export const common = (source: string): Method["provenance"] => ({ kind: "common practice", source });
export const invented = (source: string): Method["provenance"] => ({ kind: "invented for the demo", source });

export const oxygenResult = {
  parameter: "oxygen",
  analyte: "Dissolved oxygen",
  species: "O2",
  unit: "mg/L",
} as const;
export const fresh = "fresh water, surface and well";
/** How long samples keep, minutes. Source: 40 CFR 136 Table II. */
export const keeps = {
  atOnce: 15,
  fixedOxygen: 8 * 60,
  twoDays: 48 * 60,
  alkalinity: 14 * 24 * 60,
  month: 28 * 24 * 60,
} as const;

/** What titrations at the bench have in common. */
export const flask = "clean flask, rinsed with the sample";
export const fill = (ml: number) =>
  step.act("fill", `Measure ${ml} mL of sample into the flask.`, 30, { rinses: 3 });
export const readBurette = (end: string) =>
  step.read("titrate", `Read the burette, titrate swirling over white to ${end}, read again.`, 120);

/** What several methods report alike. */
export const alkalinity = {
  parameter: "alkalinity",
  analyte: "Alkalinity",
  species: "CaCO3",
  unit: "mg/L",
} as const;
export const hardness = {
  parameter: "hardness",
  analyte: "Total hardness",
  species: "CaCO3",
  unit: "mg/L",
} as const;
