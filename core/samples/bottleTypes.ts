import { z } from "zod";

const hours = z
  .number({ error: "Give it in hours, like 24." })
  .positive({ error: "More than 0 h." })
  .max(10_000, { error: "At most 10 000 h." });

/** What is put into a bottle, how, and for how long it keeps: a document like a method. */
export const bottleTypeSchema = z
  .object({
    id: z.string().regex(/^[a-z0-9]+(-[a-z0-9]+)*$/),
    version: z.number().int().min(1).default(1),
    name: z
      .string()
      .trim()
      .min(1, { error: "Give it a name." })
      .max(60, { error: "Keep the name under 61 characters." }),
    fill: z.enum(["brim", "top", "neck", "air-gap"]),
    /** How often it is rinsed with the water it will hold; 0 where it must not be. */
    rinses: z
      .number({ error: "Give a number of rinses, or 0." })
      .int({ error: "Whole rinses, please." })
      .min(0, { error: "Not below 0." })
      .max(10, { error: "Ten rinses are enough for any bottle." }),
    /** Two bottles that are one moment: both filled, then both dosed. */
    pair: z.boolean().default(false),
    filter: z
      .object({
        pore_um: z.number({ error: "Give it in µm, like 0.45." }).positive({ error: "More than 0 µm." }),
        flush_ml: z.number({ error: "Give it in mL, like 20." }).min(0, { error: "Not below 0 mL." }),
      })
      .nullable()
      .default(null),
    preservative: z.string().trim().min(1).max(80).nullable().default(null),
    /** Whether it stands in the bottle when it comes: nothing is dosed at the water. */
    already_in: z.boolean().default(false),
    /** Onto ice and into the dark. */
    cold: z.boolean().default(true),
    /** How long its water keeps, for whatever is measured of it, unless a test says otherwise. */
    holds_h: hours,
    /** Tests whose own holding time is another, by their parameter. */
    tests: z
      .array(z.object({ parameter: z.string().trim().min(1).max(60), holds_h: hours }))
      .max(60)
      .default([]),
    /** How warm it may be when it is received, °C; null where it does not matter. */
    arrives_c: z
      .number({ error: "Give it in °C, like 6." })
      .min(0, { error: "Not below 0 °C: it would freeze." })
      .max(40, { error: "At most 40 °C." })
      .nullable()
      .default(6),
    caution: z.string().trim().min(1).max(300).nullable().default(null),
  })
  .superRefine(({ already_in, preservative, rinses }, context) => {
    if (!already_in) return;
    const wrong = (path: string, message: string) =>
      context.addIssue({ code: "custom", path: [path], message });
    if (preservative === null) wrong("preservative", "Say what stands in the bottle already.");
    if (rinses > 0) wrong("rinses", "A bottle that holds its preservative is not rinsed: 0.");
  });
export type BottleType = z.infer<typeof bottleTypeSchema>;

export const fillWords: Record<BottleType["fill"], string> = {
  brim: "to the brim, without a bubble, under water if you can",
  top: "to the top",
  neck: "to the neck: there is room for the acid",
  "air-gap": "to a finger's breadth below the rim",
};

/**
 * The types that ship. Source: common practice; holding times of single tests after 40 CFR 136.3, table II (from memory);
 * at most 6 °C on arrival, microbiology below 10 °C.
 */
export const bottleTypes: readonly BottleType[] = [
  {
    id: "oxygen-pair",
    version: 1,
    name: "Oxygen, glass-stoppered pair",
    fill: "brim",
    rinses: 1,
    pair: true,
    filter: null,
    preservative: "manganese(II) and alkaline iodide-azide, then acid",
    already_in: false,
    cold: false,
    holds_h: 8,
    tests: [],
    arrives_c: null,
    caution: "Gloves and goggles: alkaline azide and strong acid. Open the reagents before the bottles.",
  },
  {
    id: "nutrients-filtered",
    version: 1,
    name: "Nutrients, filtered",
    fill: "air-gap",
    rinses: 3,
    pair: false,
    filter: { pore_um: 0.45, flush_ml: 20 },
    preservative: null,
    already_in: false,
    cold: true,
    holds_h: 48,
    tests: [],
    arrives_c: 6,
    caution: null,
  },
  {
    id: "metals-filtered",
    version: 1,
    name: "Metals, filtered and acidified",
    fill: "neck",
    rinses: 3,
    pair: false,
    filter: { pore_um: 0.45, flush_ml: 20 },
    preservative: "nitric acid, already in the bottle or from an ampoule",
    already_in: false,
    cold: true,
    holds_h: 4320,
    tests: [],
    arrives_c: null,
    caution: "Gloves and goggles: strong acid. Never rinse a bottle that has its acid in.",
  },
  {
    id: "general",
    version: 1,
    name: "General, nothing added",
    fill: "top",
    rinses: 3,
    pair: false,
    filter: null,
    preservative: null,
    already_in: false,
    cold: true,
    holds_h: 24,
    tests: [
      { parameter: "turbidity", holds_h: 48 },
      { parameter: "bod5", holds_h: 48 },
      { parameter: "suspended-solids", holds_h: 168 },
      { parameter: "alkalinity", holds_h: 336 },
      { parameter: "chloride", holds_h: 672 },
      { parameter: "sulfate", holds_h: 672 },
      { parameter: "conductivity", holds_h: 672 },
      { parameter: "hardness", holds_h: 4320 },
    ],
    arrives_c: 6,
    caution: null,
  },
  {
    id: "sterile",
    version: 2,
    name: "Microbiology, sterile",
    fill: "air-gap",
    rinses: 0,
    pair: false,
    filter: null,
    preservative: "thiosulfate",
    already_in: true,
    cold: true,
    holds_h: 24,
    tests: [],
    arrives_c: 10,
    caution: "Touch neither rim nor the inside of the lid; do not rinse.",
  },
];

/**
 * Whether a bottle comes with its preservative in it. Documents kept before they could say so had it in the words.
 * Check value: a sterile one does, an oxygen pair does not.
 */
export const bringsItsDose = (type: Pick<BottleType, "already_in" | "preservative">): boolean =>
  type.already_in || (type.preservative?.endsWith(", already in the bottle") ?? false);

/** How long the water of a bottle keeps for one test, h. Check value: chloride in a general bottle keeps for 672 h. */
const holdsFor = (type: Pick<BottleType, "holds_h" | "tests">, parameter?: string): number =>
  type.tests.find((t) => t.parameter === parameter)?.holds_h ?? type.holds_h;

/**
 * Until when the water of a bottle keeps: for one test, or for anything. Check value: filled at noon, an oxygen pair keeps
 * until 20:00.
 */
export const keepsUntil = (
  type: Pick<BottleType, "holds_h" | "tests">,
  filled_at: string,
  parameter?: string,
): string => new Date(Date.parse(filled_at) + holdsFor(type, parameter) * 3_600_000).toISOString();

export const bottleTypeOf = (id: string): BottleType | undefined => bottleTypes.find((t) => t.id === id);
