import { z } from "zod";
import { within } from "../quantity/compare";
import { formatNumber, formatSignificant } from "../quantity/format";
import { recoveryOf } from "../quantity/recovery";
import { defineCalculator, measured, type Warning } from "./define";

/** Recoveries of a sound method, percent. Source: common practice. */
const sound = [80, 120] as const;

/** Recovery of a known addition. Check value: 2.0 in 100 mL, with 1 mL of 300 then 4.9, comes back to 98.3 %. */
export const spikeRecoveryCalculator = defineCalculator({
  id: "spike-recovery",
  title: "Recovery of a known addition",
  purpose:
    "Whether the water lets the method find what was added to it; the change of volume is taken into account.",
  input: z.object({
    unspiked: measured("Result without the addition", "", 0, 1e6),
    spiked: measured("Result with it, in the same unit", "", 0, 1e6),
    sample_ml: measured("Sample", "mL", 0.01, 100_000),
    spike_ml: measured("Addition", "mL", 0.0001, 10_000),
    spike_concentration: measured("Strength of the addition, in the same unit", "", 0.000001, 1e9),
  }),
  output: z.object({ recovery_percent: z.number() }),
  sources: ["found less what was there, over what was added, as amounts; 80–120 %: common practice"],
  example: { unspiked: 2, spiked: 4.9, sample_ml: 100, spike_ml: 1, spike_concentration: 300 },
  compute({ unspiked, spiked, sample_ml, spike_ml, spike_concentration }) {
    const strength = spike_concentration;
    const { added, percent } = recoveryOf({ unspiked, spiked, sample_ml, spike_ml, strength });
    const recovery_percent = percent;
    const warnings: Warning[] = [];
    if (!within(recovery_percent, ...sound)) {
      warnings.push({
        code: "recovery-out",
        message: `${formatNumber(recovery_percent, 0)} % is outside ${sound.join("–")} %: something in this water disturbs the method, or the addition was not what it says.`,
      });
    }
    if (added < unspiked * sample_ml) {
      warnings.push({
        code: "small-spike",
        message:
          "Less was added than was there: the recovery says little. Add once to twice what the sample holds.",
      });
    }
    if (spike_ml > 0.05 * sample_ml) {
      warnings.push({
        code: "large-volume",
        message:
          "The addition is more than 5 % of the sample: take a stronger one, so that the water stays the same.",
      });
    }
    const n = (v: number) => formatSignificant(v, 4);
    return {
      outputs: { recovery_percent },
      working: [
        "R = (spiked · (V + v) − unspiked · V) / (v · c)",
        `R = (${n(spiked)} · ${n(sample_ml + spike_ml)} − ${n(unspiked)} · ${n(sample_ml)}) / (${n(spike_ml)} · ${n(spike_concentration)}) = ${formatNumber(recovery_percent, 1)} %`,
      ],
      warnings,
    };
  },
});
