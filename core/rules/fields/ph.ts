import { choice, type HouseRuleGroup, number, range } from "./field";

/** pH: what can be set, and why it stands where it does. */
export const phRules: HouseRuleGroup = {
  title: "pH",
  fields: [
    choice(
      "ph.buffers",
      "How many pH buffers",
      { 1: "One at 7, with the last slope or theory's", 2: "Two that bracket the site", 3: "Three" },
      "A line through two nearby buffers is closer than one over a range you never meet.",
    ),
    number(
      "ph.one_point_slope_days",
      "One point: stored slope at most",
      "days old",
      "Glass loses slope in weeks, not in days.",
    ),
    number(
      "ph.one_point_within_ph",
      "One point: samples within",
      "pH of the buffer",
      "An old slope errs with the distance from the buffer.",
    ),
    choice(
      "ph.line",
      "Three buffers and more",
      { "least-squares": "One line by least squares", segments: "Piece by piece between neighbours" },
      "One line shows a bad buffer as a residual; pieces hide it.",
    ),
    range("ph.slope_sound_percent", "Slope, sound", "%", "Below 95 % the glass is ageing."),
    range(
      "ph.slope_usable_percent",
      "Slope, usable with a note",
      "%",
      "Below 90 % the error between buffers can no longer be trusted.",
    ),
    number("ph.offset_sound_mv", "Offset, sound within ±", "mV", "15 mV is a quarter of a pH unit."),
    number(
      "ph.offset_usable_mv",
      "Offset, usable with a note within ±",
      "mV",
      "30 mV is half a pH unit: the reference side of the probe needs attention.",
    ),
    number(
      "ph.residual_ph",
      "Residual of each buffer, at most",
      "pH",
      "With three buffers a larger one means that one of them is not what it says.",
    ),
    number(
      "ph.buffer_gap_ph",
      "Buffers apart, at least",
      "pH",
      "Closer buffers turn a millivolt of noise into a visible error of the slope.",
    ),
    number(
      "ph.temperature_spread_c",
      "Buffers' temperatures within",
      "°C",
      "Each buffer has its own way with the temperature.",
    ),
    number(
      "ph.check_ph.bench",
      "Check buffer at the bench, within ±",
      "pH",
      "A buffer the line was not drawn through is the only test of the line.",
    ),
    number(
      "ph.check_ph.field",
      "Check buffer in the field, within ±",
      "pH",
      "Cold hands and warm buffers: the field is allowed twice the bench.",
    ),
    number(
      "ph.duplicate_ph",
      "Duplicates at most apart",
      "pH",
      "pH has no true zero, so the difference counts, never a percentage.",
    ),
    range(
      "ph.sample_temperature_c",
      "Sample temperature",
      "°C",
      "Outside it the glass is slow or wears fast.",
    ),
    number(
      "ph.steady.per_min",
      "Steady below",
      "pH/min",
      "Two people who wait for the same steadiness read the same number.",
    ),
    number("ph.steady.window_s", "Steady over", "s", "Ten seconds tell a creep from noise."),
  ],
};
