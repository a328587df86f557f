import { z } from "zod";
import { decimalMarkSchema } from "../quantity/houseNumbers";
import { flaskVolumes, pipetteVolumes } from "../reference/glassware";
import { isZone } from "../time/local";
import { pistonSchema } from "./pistons";

const range = z
  .tuple([z.number(), z.number()])
  .refine(([low, high]) => low < high, { error: "The first number must be below the second." });
const limit = z.number({ error: "Give a number." }).positive({ error: "A limit must be more than zero." });
const days = z
  .number({ error: "Give a number of days." })
  .int({ error: "Whole days, please." })
  .min(1, { error: "At least one day." })
  .max(3650, { error: "Ten years is the longest that makes sense." });

/** When a live value counts as steady, in the unit a reading is reported in; `relative` limits are % of the value. */
const steadySchema = z.object({
  window_s: limit.max(120, { error: "A window of more than two minutes keeps everybody waiting." }),
  per_min: limit,
  scatter: limit,
});

const benchAndField = z.object({ bench: limit, field: limit });

/** The organisation's choices where practitioners disagree. Versioned; every record keeps the version it was judged by. */
export const houseRulesSchema = z.object({
  zone: z.string().refine(isZone, { error: "Choose a time zone from the list." }),
  /** How decimals are written on papers; what is kept and given to programs has a point. */
  decimal_mark: decimalMarkSchema,
  /**
   * Whose records these are: the organisation's own, or the demo's and practice, where invented scales and simulated
   * instruments stand for real ones. Set once, when the database begins; no page changes it.
   */
  data: z.enum(["own", "demo"]),
  calibration: z.object({
    /** How long pH, conductivity, oxygen and redox stay calibrated. */
    interval: z.enum(["outing", "day", "week-with-daily-check"]),
    /** A control is due after so many readings. */
    control_every: z.number().int().min(1, { error: "At least one." }).max(200),
    closing_check: z.boolean(),
    rinses: z.union([z.literal(2), z.literal(3)]),
    standard_off: z.enum(["recalibrate", "correct"]),
  }),
  ph: z.object({
    /** How many buffers the guided choice proposes, before the check buffer. */
    buffers: z.union([z.literal(1), z.literal(2), z.literal(3)]),
    one_point_slope_days: days,
    one_point_within_ph: limit,
    line: z.enum(["least-squares", "segments"]),
    slope_sound_percent: range,
    slope_usable_percent: range,
    offset_sound_mv: limit,
    offset_usable_mv: limit,
    residual_ph: limit,
    buffer_gap_ph: limit,
    temperature_spread_c: limit,
    check_ph: benchAndField,
    duplicate_ph: limit,
    sample_temperature_c: range,
    steady: steadySchema,
  }),
  conductivity: z.object({
    standards: z.enum(["one-near", "two-bracket"]),
    near_factor: limit,
    line: z.enum(["ratio", "origin", "intercept"]),
    blank_us_cm: limit,
    recalibrate_percent: limit,
    correction_percent: limit,
    check_percent: benchAndField,
    cell_factor_percent: limit,
    compensation: z.enum(["linear", "natural"]),
    coefficient_percent_per_c: limit,
    tds_factor: z.number().min(0.5, { error: "At least 0.5." }).max(0.7, { error: "At most 0.7." }),
    duplicate_percent: limit,
    sample_temperature_c: range,
    steady: steadySchema,
  }),
  oxygen: z.object({
    points: z.enum(["air", "zero-and-air", "air-saturated-water"]),
    span: z.enum(["air", "fixed-10"]),
    zero_every_days: days,
    zero_sound_mg_l: limit,
    zero_usable_mg_l: limit,
    membrane_percent: range,
    warm_up_min: z.number().min(0).max(60),
    check_mg_l: limit,
    duplicate_mg_l: limit,
    sample_temperature_c: range,
    steady: steadySchema,
  }),
  redox: z.object({
    check_mv: limit,
    duplicate_mv: limit,
    sample_temperature_c: range,
    steady: steadySchema,
  }),
  temperature: z.object({
    check_c: benchAndField,
    every_days: days,
    duplicate_c: limit,
    sample_temperature_c: range,
    steady: steadySchema,
  }),
  absorbance: z.object({
    check_percent: limit,
    recovery_percent: range,
    every_days: days,
    duplicate_a: limit,
    sample_temperature_c: range,
    steady: steadySchema,
  }),
  volume: z.object({
    error_percent: limit,
    scatter_percent: limit,
    weighings: z.number().int().min(3, { error: "At least three weighings." }).max(20),
    every_days: days,
    duplicate_percent: limit,
    sample_temperature_c: range,
    steady: steadySchema,
  }),
  analysis: z.object({
    /** A colour between two steps, and one below the lowest, as one number. */
    between: z.enum(["midpoint", "interval", "lower"]),
    below: z.enum(["less-than", "half", "zero"]),
    /** Oxygen by burette and syringe, and by drops. */
    oxygen_mg_l: limit,
    oxygen_drops: z.number().int().min(1, { error: "At least one." }).max(10),
    duplicate_percent: limit,
    disagree: z.enum(["retest", "third", "resample"]),
    second_look: z.enum(["never", "blind"]),
    positive_control: z.boolean(),
  }),
  quality: z.object({
    /** Which checks a batch is owed. */
    blank: z.enum(["never", "photometers", "every"]),
    control: z.enum(["never", "photometers", "every"]),
    spike: z.enum(["never", "photometers", "every"]),
    every: z.number().int().min(1, { error: "At least one." }).max(200),
    control_percent: limit.max(100, { error: "A control that may be anything checks nothing." }),
    standard_percent: limit.max(100, { error: "A standard that may be anything checks nothing." }),
    spike_percent: range,
    unusual: limit,
  }),
  records: z.object({
    /** Who may sign a result: anybody who reviews, or only somebody other than who measured it. */
    second_person: z.enum(["other", "anyone"]),
  }),
  derived: z.object({
    free_ammonia: z.boolean(),
    saturation: z.boolean(),
    tds: z.boolean(),
    degrees: z.enum(["none", "dH", "fH", "eH"]),
    /** How far apart in time two measurements still speak of one water. */
    within_min: limit.max(1440, { error: "A day is the longest that makes sense." }),
  }),
  solutions: z.object({
    /** The glassware of the house, by its sizes, and its piston pipettes. */
    pipettes_ml: z.array(z.number().positive()).min(1, { error: "Tick one at least." }).max(40),
    flasks_ml: z.array(z.number().positive()).min(1, { error: "Tick one at least." }).max(40),
    pistons: z.array(pistonSchema).max(12, { error: "At most twelve." }),
    /** What lasts no longer is to be ordered. */
    order_days: z
      .number({ error: "Give a number of days." })
      .int({ error: "Whole days, please." })
      .min(0, { error: "Not less than none." })
      .max(365, { error: "A year is the longest that makes sense." }),
  }),
  sampling: z.object({
    /** How deep below the surface a sample is taken. */
    depth_cm: limit.max(3000, { error: "Thirty metres is deeper than a hand reaches." }),
    /** How long an air thermometer hangs before it is read. */
    air_min: limit.max(60, { error: "An hour is longer than a thermometer needs." }),
    /** How often the water of a well is exchanged before it is sampled. */
    purge_volumes: z.number().min(1, { error: "At least one." }).max(20, { error: "At most twenty." }),
    /** How many rounds in a row must agree before a well counts as steady. */
    stable_rounds: z.union([z.literal(2), z.literal(3), z.literal(4)]),
  }),
});

export type HouseRules = z.infer<typeof houseRulesSchema>;

/** The rules a new organisation starts with. Limits: common practice, except where a rule says otherwise. */
export const defaultHouseRules: HouseRules = {
  zone: "UTC",
  decimal_mark: "point",
  data: "own",
  calibration: {
    interval: "day",
    control_every: 10,
    closing_check: true,
    rinses: 3,
    standard_off: "recalibrate",
  },
  ph: {
    buffers: 2,
    one_point_slope_days: 30,
    one_point_within_ph: 1,
    line: "least-squares",
    slope_sound_percent: [95, 102],
    slope_usable_percent: [90, 105],
    offset_sound_mv: 15,
    offset_usable_mv: 30,
    residual_ph: 0.05,
    buffer_gap_ph: 2,
    temperature_spread_c: 2,
    check_ph: { bench: 0.05, field: 0.1 },
    duplicate_ph: 0.1,
    sample_temperature_c: [0, 50],
    steady: { window_s: 10, per_min: 0.02, scatter: 0.01 },
  },
  conductivity: {
    standards: "one-near",
    near_factor: 2,
    line: "ratio",
    blank_us_cm: 2,
    recalibrate_percent: 5,
    correction_percent: 15,
    check_percent: { bench: 5, field: 10 },
    cell_factor_percent: 10,
    compensation: "natural",
    coefficient_percent_per_c: 1.91,
    tds_factor: 0.65,
    duplicate_percent: 20,
    sample_temperature_c: [5, 30],
    steady: { window_s: 10, per_min: 0.5, scatter: 0.5 },
  },
  oxygen: {
    points: "air",
    span: "air",
    zero_every_days: 30,
    zero_sound_mg_l: 0.3,
    zero_usable_mg_l: 0.5,
    membrane_percent: [70, 130],
    warm_up_min: 10,
    check_mg_l: 0.3,
    duplicate_mg_l: 0.6,
    sample_temperature_c: [0, 40],
    steady: { window_s: 20, per_min: 0.1, scatter: 0.05 },
  },
  redox: {
    check_mv: 20,
    duplicate_mv: 10,
    sample_temperature_c: [0, 40],
    steady: { window_s: 10, per_min: 2, scatter: 1 },
  },
  temperature: {
    check_c: { bench: 0.2, field: 0.5 },
    every_days: 180,
    duplicate_c: 0.2,
    sample_temperature_c: [-5, 100],
    steady: { window_s: 10, per_min: 0.1, scatter: 0.05 },
  },
  absorbance: {
    check_percent: 10,
    recovery_percent: [90, 110],
    every_days: 7,
    duplicate_a: 0.02,
    sample_temperature_c: [10, 35],
    steady: { window_s: 5, per_min: 0.05, scatter: 0.005 },
  },
  volume: {
    error_percent: 2,
    scatter_percent: 2,
    weighings: 3,
    every_days: 90,
    duplicate_percent: 2,
    sample_temperature_c: [5, 35],
    steady: { window_s: 2, per_min: 1, scatter: 1 },
  },
  analysis: {
    between: "midpoint",
    below: "less-than",
    oxygen_mg_l: 0.6,
    oxygen_drops: 2,
    duplicate_percent: 20,
    disagree: "retest",
    second_look: "never",
    positive_control: false,
  },
  quality: {
    blank: "never",
    control: "never",
    spike: "never",
    every: 20,
    control_percent: 10,
    standard_percent: 10,
    spike_percent: [80, 120],
    unusual: 3.5,
  },
  records: { second_person: "other" },
  derived: { free_ammonia: true, saturation: true, tds: false, degrees: "none", within_min: 60 },
  solutions: {
    pipettes_ml: [...pipetteVolumes],
    flasks_ml: [...flaskVolumes],
    pistons: [],
    order_days: 14,
  },
  sampling: { depth_cm: 15, air_min: 5, purge_volumes: 3, stable_rounds: 3 },
};

type Document = Record<string, unknown>;
const isDocument = (value: unknown): value is Document =>
  typeof value === "object" && value !== null && !Array.isArray(value);

/** Fills what an older version of the rules did not have yet from the defaults. */
export function completeRules(stored: unknown): HouseRules {
  const fill = (base: unknown, over: unknown): unknown =>
    isDocument(base) && isDocument(over)
      ? Object.fromEntries(Object.keys(base).map((k) => [k, k in over ? fill(base[k], over[k]) : base[k]]))
      : over;
  return houseRulesSchema.parse(fill(defaultHouseRules, stored));
}
