import { choice, type HouseRuleGroup, number } from "./field";

/** Every meter: what can be set, and why it stands where it does. */
export const everyMeterRules: HouseRuleGroup = {
  title: "Every meter",
  fields: [
    choice(
      "calibration.interval",
      "How often to calibrate",
      {
        outing: "Each outing: until the closing check",
        day: "Each day of use, with a check at the end",
        "week-with-daily-check": "Weekly, with a check each day before the first reading",
      },
      "A probe drifts overnight; a morning calibration covers the day's readings.",
    ),
    number(
      "calibration.control_every",
      "A control after so many readings",
      "readings",
      "Ten readings are what one is willing to lose when the control is off.",
    ),
    choice(
      "calibration.closing_check",
      "Closing check at the end of the day",
      { true: "Always", false: "Left to the technician" },
      "Only the check at the end tells whether the day's readings may stand.",
    ),
    choice(
      "calibration.rinses",
      "Rinses before each solution",
      { 3: "Three", 2: "Two" },
      "Each rinse leaves about a tenth of what clung; three leave a thousandth.",
    ),
    choice(
      "calibration.standard_off",
      "A standard reads off",
      {
        recalibrate: "Recalibrate; readings wait",
        correct: "Correct readings by the ratio when it cannot be recalibrated",
      },
      "A correction hides the cause. It is limited, and the reading is qualified.",
    ),
  ],
};
