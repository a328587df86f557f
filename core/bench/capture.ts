import { z } from "zod";
import { formatNumber } from "../quantity/format";
import { measurandFacts, measurands } from "../quantity/measurand";

/** One measurand of a capture: its signal where the meter shows one, otherwise what the display said. */
const measuredSchema = z
  .object({
    measurand: z.enum(measurands),
    signal: z.number({ error: "Type the signal." }).nullable(),
    displayed: z.number({ error: "Type what the display shows." }).nullable(),
    /** Display after the meter was adjusted to the standard; null where it was not adjusted. */
    adjusted: z.number({ error: "Type what the display shows after adjusting." }).nullable(),
    /** What a reference instrument beside it showed, for a thermometer. */
    reference: z.number({ error: "Type what the reference shows." }).nullable(),
    /** Standard deviation of the live samples around their line; null when typed. */
    scatter: z.number().min(0).nullable(),
    /** Rate of change of the value as it would be reported, per minute; null when nobody timed it. */
    per_min: z.number().nullable(),
  })
  .superRefine((m, issue) => {
    const at = (path: string, message: string) => issue.addIssue({ code: "custom", path: [path], message });
    const facts = measurandFacts[m.measurand];
    const sentence = (low: number, high: number, unit: string) =>
      `No meter shows a ${facts.word} like that: it lies between ${formatNumber(low, 0)} and ${formatNumber(high, 0)} ${unit}.`;
    const check = (path: "signal" | "displayed" | "adjusted" | "reference") => {
      const { low, high, unit } = path === "signal" ? facts.signal : { ...facts.display, unit: facts.unit };
      const value = m[path];
      if (value !== null && !(value >= low && value <= high)) at(path, sentence(low, high, unit));
    };
    for (const path of ["signal", "displayed", "adjusted", "reference"] as const) check(path);
    if ((m.signal === null) === (m.displayed === null)) {
      at("signal", "A capture is either a signal or a displayed value.");
    }
  });
export type Measured = z.infer<typeof measuredSchema>;

/** Values kept from a meter at one moment in one solution. */
export const captureSchema = z.object({
  /** `simulated` is set by the server, which knows what sends the signals. */
  source: z.enum(["live", "typed", "simulated"]),
  values: z.array(measuredSchema).min(1).max(measurands.length),
  temperature_c: z
    .number({ error: "Type the temperature in °C." })
    .min(-5, { error: "Colder than −5 °C is ice. Check the temperature." })
    .max(100, { error: "Hotter than 100 °C is steam. Check the temperature." }),
  /** Whether every value was steady by the house rule; null when nobody timed it (typed by hand). */
  steady: z.boolean().nullable(),
  seconds_in_solution: z.number().min(0).nullable(),
});
export type Capture = z.infer<typeof captureSchema>;
