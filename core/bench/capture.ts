import { z } from "zod";

/** A value kept from a pH meter: its signal where the meter shows one, otherwise what the display said. */
export const captureSchema = z
  .object({
    source: z.enum(["live", "typed"]),
    signal_mv: z
      .number({ error: "Type the signal in mV." })
      .min(-2000, { error: "No pH electrode gives less than −2000 mV." })
      .max(2000, { error: "No pH electrode gives more than 2000 mV." })
      .nullable(),
    displayed_ph: z
      .number({ error: "Type the pH the display shows." })
      .min(-2, { error: "A display never shows a pH below −2." })
      .max(16, { error: "A display never shows a pH above 16." })
      .nullable(),
    /** Display after the meter was adjusted to the buffer; null where it was not adjusted. */
    adjusted_ph: z
      .number({ error: "Type the pH the display shows after adjusting." })
      .min(-2, { error: "A display never shows a pH below −2." })
      .max(16, { error: "A display never shows a pH above 16." })
      .nullable(),
    temperature_c: z
      .number({ error: "Type the temperature in °C." })
      .min(-5, { error: "Colder than −5 °C is ice. Check the temperature." })
      .max(100, { error: "Hotter than 100 °C is steam. Check the temperature." }),
    /** Whether the reading was steady by the house rule; null when nobody timed it (typed by hand). */
    steady: z.boolean().nullable(),
    seconds_in_solution: z.number().min(0).nullable(),
    slope_ph_per_min: z.number().nullable(),
  })
  .refine((c) => (c.signal_mv === null) !== (c.displayed_ph === null), {
    error: "A capture is either a signal in mV or a displayed pH.",
  });
export type Capture = z.infer<typeof captureSchema>;

/** The meter as bench work keeps it. */
export const meterSnapshotSchema = z.object({
  id: z.string(),
  code: z.string(),
  name: z.string(),
  /** `signal`: shows mV. `value`: shows only pH. */
  display: z.enum(["signal", "value"]),
  place: z.enum(["bench", "field"]),
  probe_installed_on: z.string(),
});
export type MeterSnapshot = z.infer<typeof meterSnapshotSchema>;
