import { z } from "zod";
import { formatNumber } from "../quantity/format";
import { certifiedValue } from "../reference/certificate";
import { bufferIds, phBuffers } from "../reference/phBuffers";
import { defineCalculator, measured } from "./define";

/** pH of a buffer at a temperature. Check value: phosphate at 25 °C is 6.865. */
export const phBufferCalculator = defineCalculator({
  id: "ph-buffer",
  title: "pH of a buffer at its temperature",
  purpose: "Set the meter to the value the buffer has at this temperature, not to the number on the label.",
  input: z.object({
    buffer: z.enum(bufferIds).meta({ title: "Buffer" }),
    temperature_c: measured("Temperature", "°C", -273.15, 1000),
  }),
  output: z.object({ ph: z.number() }),
  sources: [
    "NIST SP 260-53 / DIN 19266 for primary buffers (from memory, ±0.005 pH)",
    "common practice for technical buffers; a lot's certificate overrides",
  ],
  example: { buffer: "technical-7", temperature_c: 18 },
  compute({ buffer, temperature_c }) {
    const { name, table } = phBuffers[buffer];
    const ph = certifiedValue(table, temperature_c);
    if (!ph.ok) return { problems: [{ path: "temperature_c", message: ph.error.message }] };
    return {
      outputs: { ph: ph.value },
      working: [
        "pH read between the two nearest temperatures of the buffer's table, along a straight line",
        `${name}: ${table.map((row) => `${row.temperature_c} °C ${row.value.toFixed(3)}`).join(" · ")}`,
        `at ${formatNumber(temperature_c, 1)} °C: pH ${formatNumber(ph.value, 3)}`,
      ],
    };
  },
});
