import { readValue } from "../../../core/quantity/entry";
import type { Piston } from "../../../core/rules/pistons";
import type { DilutionQuestion } from "../../workers/dilution.worker";

export type Field = "stock" | "targets" | "volume" | "stock_u" | "available" | "smallest";
export type Wrong = Partial<Record<Field | "glass", string>>;

export const numberOf = (text: string) => {
  const entry = readValue(text, "");
  return "value" in entry ? entry.value : Number.NaN;
};

/** What was typed as a question to the planner, or what is wrong with it. */
export function readQuestion(
  texts: Record<Field, string>,
  { pipettes, flasks, pistons }: { pipettes: number[]; flasks: number[]; pistons: Piston[] },
): { wrong: Wrong } | { wrong: null; question: Omit<DilutionQuestion, "id"> } {
  const wrong: Wrong = {};
  const positive = (name: Field, optional = false) => {
    if (optional && texts[name].trim() === "") return undefined;
    const value = numberOf(texts[name]);
    if (!(value > 0)) wrong[name] = "Give a number above zero.";
    return value;
  };
  const stock = positive("stock") ?? Number.NaN;
  const final_volume_ml = positive("volume") ?? Number.NaN;
  const stock_available_ml = positive("available", true);
  const smallest_ml = positive("smallest", true);
  const u = numberOf(texts.stock_u || "0");
  if (!(u >= 0 && u <= 50)) wrong.stock_u = "Give a percentage from 0 to 50.";
  const targets = texts.targets
    .split(";")
    .filter((t) => t.trim() !== "")
    .map(numberOf);
  if (targets.length === 0 || targets.some((t) => !(t > 0))) wrong.targets = "Give numbers above zero.";
  else if (targets.some((t) => t >= stock))
    wrong.targets = "A dilution is never stronger than what it is made of.";
  else if (targets.length > 12) wrong.targets = "At most twelve levels.";
  if ((pipettes.length === 0 && pistons.length === 0) || flasks.length === 0)
    wrong.glass = "Tick a pipette and a flask at least.";
  if (Object.keys(wrong).length) return { wrong };
  return {
    wrong: null,
    question: {
      targets,
      problem: {
        stock,
        final_volume_ml,
        pipettes_ml: pipettes,
        flasks_ml: flasks,
        pistons,
        stock_relative_uncertainty: u / 100,
        ...(smallest_ml === undefined ? {} : { smallest_ml }),
        ...(stock_available_ml === undefined ? {} : { stock_available_ml }),
      },
    },
  };
}
