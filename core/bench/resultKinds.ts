/** What a result is of: the water itself, or something that says how good the results of its batch are. */
export const resultKinds = ["sample", "blank", "control", "standard", "spike"] as const;
export type ResultKind = (typeof resultKinds)[number];
export type CheckKind = Exclude<ResultKind, "sample">;
export const checkKinds: readonly CheckKind[] = ["blank", "control", "standard", "spike"];

export const kindWords: Record<ResultKind, string> = {
  sample: "Sample",
  blank: "Blank",
  control: "Control sample",
  standard: "Standard",
  spike: "Spiked sample",
};

export const blankKinds = ["reagent", "rinse", "field"] as const;
export type BlankKind = (typeof blankKinds)[number];
export const blankWords: Record<BlankKind, string> = {
  reagent: "Reagent blank",
  rinse: "Rinse water",
  field: "Field blank",
};
