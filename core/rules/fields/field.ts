interface FieldBase {
  /** Where the value stands in the document, with dots. */
  path: string;
  title: string;
  /** Why the default is what it is. */
  reason: string;
}

/** One house rule as it is shown and edited. */
export type HouseRuleField = FieldBase &
  (
    | { kind: "choice"; options: { value: string; label: string }[] }
    | { kind: "number"; unit: string }
    | { kind: "range"; unit: string }
    /** Some of a list of sizes. */
    | { kind: "pieces"; unit: string; sizes: readonly number[] }
    | { kind: "pistons" }
  );

export interface HouseRuleGroup {
  title: string;
  fields: HouseRuleField[];
}

/** A rule that is one of a few; its values with what they are called. */
export const choice = (
  path: string,
  title: string,
  options: Record<string, string>,
  reason: string,
): HouseRuleField => ({
  kind: "choice",
  path,
  title,
  reason,
  options: Object.entries(options).map(([value, label]) => ({ value, label })),
});

/** A rule that is a number in a unit. */
export const number = (path: string, title: string, unit: string, reason: string): HouseRuleField => ({
  kind: "number",
  path,
  title,
  unit,
  reason,
});

/** A rule that is two numbers in a unit. */
export const range = (path: string, title: string, unit: string, reason: string): HouseRuleField => ({
  kind: "range",
  path,
  title,
  unit,
  reason,
});
