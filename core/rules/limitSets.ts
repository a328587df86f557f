import { z } from "zod";
import { formatOwnDigits } from "../quantity/format";
import { type Found, rangeOf } from "../quantity/found";
import { type Measurand, measurandFacts } from "../quantity/measurand";
import { speciesFactor } from "../quantity/species";
import { convert, unitNamed } from "../quantity/unit";

/** What numbers mean is a document too: who says so, of what, between which ends, and how binding it is. */
const limitSchema = z.object({
  parameter: z.string().min(1),
  species: z.string().min(1),
  unit: z.string().min(1),
  low: z.number().nullable(),
  high: z.number().nullable(),
  kind: z.enum(["limit", "guideline", "expectation"]),
});

export const limitSetSchema = z.object({
  id: z.string().regex(/^[a-z0-9-]+$/),
  name: z.string().trim().min(1, { error: "Give the set a name." }).max(80),
  authority: z.string().trim().min(1, { error: "Say whose limits they are." }).max(120),
  /** Whether the figures were recalled and not looked up. */
  from_memory: z.boolean(),
  limits: z.array(limitSchema).min(1, { error: "A set has at least one limit." }),
});
export type LimitSet = z.infer<typeof limitSetSchema>;

const mgL = { unit: "mg/L", low: null } as const;

/** The sets that ship, with their source; figures from memory say so. */
export const limitSets: readonly LimitSet[] = [
  {
    id: "drinking-water",
    name: "Drinking water",
    authority: "WHO guidelines for drinking-water quality",
    from_memory: true,
    limits: [
      { ...mgL, parameter: "nitrate", species: "NO3", high: 50, kind: "guideline" },
      { ...mgL, parameter: "nitrite", species: "NO2", high: 3, kind: "guideline" },
    ],
  },
  {
    id: "aquatic-life",
    name: "Aquatic life",
    authority: "US EPA, ambient water quality criterion for chloride 1988",
    from_memory: true,
    limits: [{ ...mgL, parameter: "chloride", species: "Cl", high: 230, kind: "limit" }],
  },
  {
    id: "fish-water",
    name: "Water for fish",
    authority: "EU directive 2006/44/EC and common practice",
    from_memory: true,
    limits: [
      { parameter: "oxygen", species: "O2", unit: "mg/L", low: 5, high: null, kind: "expectation" },
      { ...mgL, parameter: "free-ammonia", species: "NH3", high: 0.025, kind: "guideline" },
    ],
  },
  {
    id: "secondary",
    name: "Taste and pipes",
    authority: "US EPA secondary drinking water standards",
    from_memory: true,
    limits: [
      { parameter: "ph", species: "pH", unit: "pH", low: 6.5, high: 8.5, kind: "guideline" },
      { ...mgL, parameter: "chloride", species: "Cl", high: 250, kind: "guideline" },
    ],
  },
];

/**
 * What is wrong with the figures of a set, in sentences; none where each limit has an end, and the lower one is below the upper. Check
 * value: a limit from 9 to 6 is refused.
 */
export const limitProblems = (set: LimitSet): string[] =>
  set.limits.flatMap((limit) => {
    const { low, high } = limit;
    if (low === null && high === null)
      return [`The limit of ${limitedQuantity(limit)} has neither a lower nor an upper end.`];
    if (low !== null && high !== null && low >= high)
      return [`The limit of ${limitedQuantity(limit)} ends below where it begins: ${low} to ${high}.`];
    return [];
  });

type Limit = LimitSet["limits"][number];

/** What a limit is of, in words. Check value: the limit of `free-ammonia` is one of free ammonia. */
export const limitedQuantity = ({ parameter }: Limit): string =>
  parameter in measurandFacts ? measurandFacts[parameter as Measurand].word : parameter.replaceAll("-", " ");

/** One end of a limit in the digits it is written with, with its unit and species; a pH has none. */
function endOf({ parameter, species, unit }: Limit, end: number): string {
  if (unit === "pH") return formatOwnDigits(end);
  const as = species === unit || parameter === "oxygen" ? "" : ` as ${species}`;
  return `${formatOwnDigits(end)} ${unit}${as}`;
}

/** The ends of a limit in words, with its unit and species. Check value: "at most 50 mg/L as NO3". */
export const endsInWords = (limit: Limit): string =>
  [
    ...(limit.low === null ? [] : [`at least ${endOf(limit, limit.low)}`]),
    ...(limit.high === null ? [] : [`at most ${endOf(limit, limit.high)}`]),
  ].join(", ");

export interface Meaning {
  set: string;
  words: string;
  /** The same in two or three words, without figures. */
  short: string;
  /** Whether the result keeps what the set asks; null when its range leaves that open. */
  kept: boolean | null;
}

/** How binding a limit is, in words. */
export const limitKinds = {
  limit: "the limit",
  guideline: "the guideline",
  expectation: "what is expected",
} as const;

/** What a number in one unit is to be multiplied by to be in another; null when it cannot be. */
function unitFactor(from: string, to: string): number | null {
  if (from === to) return 1;
  const [a, b] = [unitNamed(from), unitNamed(to)];
  return a && b ? (convert(1, a, b) ?? null) : null;
}

/** What is measured, as which species and in which unit: a number says nothing without them. */
interface Quantity {
  parameter: string;
  species: string;
  unit: string;
}

interface HeldLimit {
  set: LimitSet;
  limit: Limit;
  /** What a number as it was measured is to be multiplied by to be held against the limit. */
  times: number;
}

/** The limits that a quantity can be held against; what cannot be brought to a limit's own unit and species is not. */
function limitsOf({ parameter, species, unit }: Quantity, sets: readonly LimitSet[]): HeldLimit[] {
  return sets.flatMap((set) =>
    set.limits.flatMap((limit): HeldLimit[] => {
      if (limit.parameter !== parameter) return [];
      const factor = limit.species === species ? 1 : speciesFactor(species, limit.species);
      const inSpecies = typeof factor === "number" ? factor : factor.ok ? factor.value : null;
      const inUnit = unitFactor(unit, limit.unit);
      return inSpecies === null || inUnit === null ? [] : [{ set, limit, times: inSpecies * inUnit }];
    }),
  );
}

export interface LimitAsMeasured {
  name: string;
  kind: keyof typeof limitKinds;
  low: number | null;
  high: number | null;
}

/**
 * The limits of the sets chosen in the unit and species of what was measured, to be drawn beside the results. Source: each set
 * names its own. Check value: the guideline of 50 mg/L as NO3 is 11.3 mg/L for a result as NO3-N.
 */
export const limitsAsMeasured = (quantity: Quantity, sets: readonly LimitSet[]): LimitAsMeasured[] =>
  limitsOf(quantity, sets).map(({ set, limit, times }) => ({
    name: set.name,
    kind: limit.kind,
    low: limit.low === null ? null : limit.low / times,
    high: limit.high === null ? null : limit.high / times,
  }));

/**
 * What a result means by the sets chosen, units and species converted and never relabelled. A range that reaches over a limit leaves
 * it open. Source: each set names its own. Check value: 60 mg/L of NO3 is above the guideline of 50 mg/L as NO3.
 */
export function meaningsOf(
  quantity: Quantity,
  found: Found,
  sets: readonly LimitSet[] = limitSets,
): Meaning[] {
  return limitsOf(quantity, sets).map(({ set, limit, times }): Meaning => {
    const [low, high] = rangeOf(found).map((v) => v * times) as [number, number];
    const name = `${set.name}: ${set.authority}${set.from_memory ? " (from memory)" : ""}`;
    const above = limit.high !== null && low > limit.high;
    const below = limit.low !== null && high < limit.low;
    const inside = (limit.high === null || high <= limit.high) && (limit.low === null || low >= limit.low);
    if (above)
      return {
        set: name,
        words: `Above ${limitKinds[limit.kind]} of ${endOf(limit, limit.high as number)}.`,
        short: `above ${limitKinds[limit.kind]}`,
        kept: false,
      };
    if (below)
      return {
        set: name,
        words: `Below ${limitKinds[limit.kind]} of ${endOf(limit, limit.low as number)}.`,
        short: `below ${limitKinds[limit.kind]}`,
        kept: false,
      };
    const bounds = endsInWords(limit);
    return inside
      ? {
          set: name,
          words: `Within ${limitKinds[limit.kind]}: ${bounds}.`,
          short: `within ${limitKinds[limit.kind]}`,
          kept: true,
        }
      : {
          set: name,
          words: `It may or may not keep ${limitKinds[limit.kind]} (${bounds}).`,
          short: `perhaps beyond ${limitKinds[limit.kind]}`,
          kept: null,
        };
  });
}
