import { choice, type HouseRuleGroup, number, range } from "./field";

/** Conductivity: what can be set, and why it stands where it does. */
export const conductivityRules: HouseRuleGroup = {
  title: "Conductivity",
  fields: [
    choice(
      "conductivity.standards",
      "Conductivity standards",
      {
        "one-near": "One near the samples, and the rinse-water blank",
        "two-bracket": "Two that bracket the samples",
      },
      "One within a factor of 2 is enough; two when a site spans more than a decade.",
    ),
    number(
      "conductivity.near_factor",
      "The one standard within a factor of",
      "",
      "Cells are straight over a small range, not over decades.",
    ),
    choice(
      "conductivity.line",
      "Several standards",
      {
        ratio: "One cell factor, each standard alike in percent",
        origin: "One cell factor, least squares in µS/cm",
        intercept: "A line with intercept",
      },
      "Percent treats the weak and the strong standard alike.",
    ),
    number(
      "conductivity.blank_us_cm",
      "Rinse water at most",
      "µS/cm",
      "The blank decides whether water is pure, not the name on the bottle.",
    ),
    number(
      "conductivity.recalibrate_percent",
      "Recalibrate when a standard is off by more than",
      "%",
      "Less than 5 % is within what standards and temperatures do.",
    ),
    number(
      "conductivity.correction_percent",
      "A correction by the ratio, at most",
      "%",
      "Beyond 15 % something is broken, and a ratio would hide it.",
    ),
    number(
      "conductivity.check_percent.bench",
      "Check standard at the bench, within ±",
      "%",
      "Standards carry 1 %, cells 2 %.",
    ),
    number(
      "conductivity.check_percent.field",
      "Check standard in the field, within ±",
      "%",
      "Temperature in the field is worse known.",
    ),
    number(
      "conductivity.cell_factor_percent",
      "Cell factor within ± of nominal",
      "%",
      "A cell further off is fouled or has a bubble.",
    ),
    choice(
      "conductivity.compensation",
      "Compensation of raw readings to 25 °C",
      { natural: "As natural waters behave (EN 27888)", linear: "By one coefficient" },
      "Pond and ground water follow the curve of natural waters, not a straight line.",
    ),
    number(
      "conductivity.coefficient_percent_per_c",
      "Coefficient, when by one",
      "%/°C",
      "1.91 is that of dilute potassium chloride.",
    ),
    number(
      "conductivity.tds_factor",
      "Dissolved solids from conductivity, factor",
      "",
      "0.65 is the middle of what natural waters do.",
    ),
    number("conductivity.duplicate_percent", "Duplicates at most apart", "%", "The usual relative rule."),
    range(
      "conductivity.sample_temperature_c",
      "Sample temperature",
      "°C",
      "Outside it the compensation is a guess: let the sample come to room temperature.",
    ),
  ],
};
