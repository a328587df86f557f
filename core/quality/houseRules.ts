import { z } from "zod";

const range = z.tuple([z.number(), z.number()]);

/** The organisation's choices where practitioners disagree. Versioned; every record keeps the version it was judged by. */
export const houseRulesSchema = z.object({
  zone: z.string().min(1),
  ph: z.object({
    /** How many buffers the guided choice proposes, before the check buffer. */
    buffers: z.union([z.literal(2), z.literal(3)]),
    slope_sound_percent: range,
    slope_usable_percent: range,
    offset_sound_mv: z.number().positive(),
    offset_usable_mv: z.number().positive(),
    residual_ph: z.number().positive(),
    buffer_gap_ph: z.number().positive(),
    temperature_spread_c: z.number().positive(),
    check_ph: z.object({ bench: z.number().positive(), field: z.number().positive() }),
    duplicate_ph: z.number().positive(),
    sample_temperature_c: range,
    steady: z.object({
      window_s: z.number().positive(),
      slope_ph_per_min: z.number().positive(),
      scatter_ph: z.number().positive(),
    }),
  }),
});

export type HouseRules = z.infer<typeof houseRulesSchema>;

/** The rules a new organisation starts with. Limits: common practice, except where a rule says otherwise. */
export const defaultHouseRules: HouseRules = {
  zone: "UTC",
  ph: {
    buffers: 2,
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
    steady: { window_s: 10, slope_ph_per_min: 0.02, scatter_ph: 0.01 },
  },
};

/** How each rule is shown on the house rules page: its words, its value and why it is the default. */
export function describeHouseRules(rules: HouseRules): { rule: string; value: string; reason: string }[] {
  const { ph } = rules;
  return [
    {
      rule: "How many pH buffers",
      value: `${ph.buffers} that bracket the expected range, then a check`,
      reason: "A line through two nearby buffers is closer than one over a range you never meet.",
    },
    {
      rule: "How often to calibrate pH",
      value: "each day of use",
      reason: "A probe drifts overnight; a morning calibration covers the day's readings.",
    },
    {
      rule: "Slope",
      value: `sound ${ph.slope_sound_percent.join(" – ")} %, usable with a note ${ph.slope_usable_percent.join(" – ")} %`,
      reason:
        "Below 95 % the glass is ageing; below 90 % the error between buffers can no longer be trusted.",
    },
    {
      rule: "Offset",
      value: `sound within ${ph.offset_sound_mv} mV, usable with a note within ${ph.offset_usable_mv} mV`,
      reason: "30 mV is half a pH unit: the reference side of the probe needs attention.",
    },
    {
      rule: "Residual of each buffer",
      value: `at most ${ph.residual_ph} pH`,
      reason: "With three buffers a larger one means that one of the buffers is not what it says.",
    },
    {
      rule: "Buffers apart",
      value: `at least ${ph.buffer_gap_ph} pH, within ${ph.temperature_spread_c} °C of each other`,
      reason: "Closer buffers turn a millivolt of noise into a visible error of the slope.",
    },
    {
      rule: "Independent check buffer",
      value: `within ±${ph.check_ph.bench} pH at the bench, ±${ph.check_ph.field} pH in the field`,
      reason: "A buffer the line was not drawn through is the only test of the line.",
    },
    {
      rule: "Duplicates of pH",
      value: `at most ${ph.duplicate_ph} pH apart; the mean is reported`,
      reason: "pH is a scale without a true zero, so the difference counts, never a percentage.",
    },
    {
      rule: "Steady reading",
      value: `less than ${ph.steady.slope_ph_per_min} pH/min over ${ph.steady.window_s} s, with 95 % confidence`,
      reason: "Two people who wait for the same steadiness read the same number.",
    },
  ];
}
