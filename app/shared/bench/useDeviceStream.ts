import { useEffect, useRef, useState } from "react";
import { z } from "zod";
import {
  assessStability,
  type Stability,
  type StabilityCriterion,
  type StreamSample,
} from "../../../core/calibration/stability";
import { nernstSlope } from "../../../core/reference/constants";

const sampleSchema = z.object({
  t: z.number(),
  value: z.number(),
  temperature_c: z.number(),
  status: z.enum(["ok", "not-in-solution"]),
});
const mediumSchema = z.object({
  label: z.string(),
  kind: z.string(),
  entered_s: z.number(),
  speed: z.number(),
});

export interface SteadyRule {
  window_s: number;
  slope_ph_per_min: number;
  scatter_ph: number;
}

export interface Live {
  connected: boolean;
  medium: string | null;
  inSolution: boolean;
  value: number | null;
  temperature_c: number | null;
  seconds_in_solution: number;
  slope_ph_per_min: number | null;
  stability: Stability | null;
  /** The last minute, for the chart; t in device seconds. */
  samples: StreamSample[];
}

const silent: Live = {
  connected: false,
  medium: null,
  inSolution: false,
  value: null,
  temperature_c: null,
  seconds_in_solution: 0,
  slope_ph_per_min: null,
  stability: null,
  samples: [],
};

/** The limits of the house rule in mV, for the electrode at this temperature. */
function criterion(rule: SteadyRule, temperatureC: number): StabilityCriterion {
  const k = nernstSlope(temperatureC);
  return {
    window_s: rule.window_s,
    max_slope_per_min: rule.slope_ph_per_min * k,
    max_scatter: rule.scatter_ph * k,
  };
}

/**
 * Listens to a meter's stream and judges how steady it is since the probe entered its solution.
 * A change of `step` forgets what was heard: a probe that was steady in the rinse water is not steady in the buffer.
 */
export function useDeviceStream(meterId: string | null, rule: SteadyRule, step: string): Live {
  const [heard, setHeard] = useState<{ live: Live; step: string }>({ live: silent, step });
  const stepRef = useRef(step);
  stepRef.current = step;
  const ruleRef = useRef(rule);
  ruleRef.current = rule;
  useEffect(() => {
    if (!meterId) return;
    let samples: StreamSample[] = [];
    let samplesOf = stepRef.current;
    let medium: z.output<typeof mediumSchema> | null = null;
    const source = new EventSource(`/devices/${meterId}/stream`);
    source.addEventListener("medium", (event) => {
      medium = mediumSchema.parse(JSON.parse(event.data));
      samples = [];
    });
    source.onmessage = (event: MessageEvent<string>) => {
      const fresh = event.data.split("\n").map((line) => sampleSchema.parse(JSON.parse(line)));
      const last = fresh.at(-1);
      if (!last) return;
      if (samplesOf !== stepRef.current) samples = [];
      samplesOf = stepRef.current;
      samples.push(...fresh.map((s) => ({ t_s: s.t, value: s.value })));
      samples = samples.filter((s) => s.t_s >= last.t - 60);
      const inSolution = last.status === "ok";
      const stability = inSolution
        ? assessStability(samples, criterion(ruleRef.current, last.temperature_c))
        : null;
      setHeard({
        step: samplesOf,
        live: {
          connected: true,
          medium: medium?.label ?? null,
          inSolution,
          value: last.value,
          temperature_c: last.temperature_c,
          seconds_in_solution: medium ? last.t - medium.entered_s : 0,
          slope_ph_per_min:
            stability && Number.isFinite(stability.slope_per_min)
              ? stability.slope_per_min / nernstSlope(last.temperature_c)
              : null,
          stability,
          samples: [...samples],
        },
      });
    };
    source.onerror = () => setHeard((before) => ({ ...before, live: { ...before.live, connected: false } }));
    return () => source.close();
  }, [meterId]);
  // What was heard in the step before says nothing of this one.
  return heard.step === step ? heard.live : { ...heard.live, stability: null, samples: [] };
}
