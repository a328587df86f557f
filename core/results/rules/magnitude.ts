import { magnitudeSlip } from "../../quantity/magnitude";
import { formatMeasured } from "../../quantity/measurand";
import { measuredValue, type ReadingRule } from "../evidence";

/** A value that is off by a factor of ten, a hundred or a thousand from what the site gives is asked about. */
export const judgeMagnitude: ReadingRule = ({ amended, outcome, portions, usual, parameter }) => {
  const value = measuredValue({ amended, outcome }) ?? portions[0]?.value;
  const slip = value === undefined ? null : magnitudeSlip(value, usual, parameter);
  if (!slip || value === undefined || !usual) return [];
  return [
    {
      rule: "magnitude",
      severity: "hold",
      measured: formatMeasured(value, parameter, 2),
      limit: `${formatMeasured(usual.low, parameter)} – ${formatMeasured(usual.high, parameter)} usual at this site`,
      sentence: slip.sentence,
      action: "Read the unit and the decimal point on the display again, and measure once more.",
    },
  ];
};
