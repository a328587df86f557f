import { useEffect, useRef, useState } from "react";
import { signalPerUnit } from "../../../core/calibration/convert";
import { assessStability, type Stability, type StreamSample } from "../../../core/calibration/stability";
import type { Measurand } from "../../../core/quantity/measurand";
import type { HouseRules } from "../../../core/rules/houseRules";
import type { MediumFrame } from "./deviceFrames";

/** What is heard of one sensor. */
export interface LiveChannel {
  value: number;
  inSolution: boolean;
  /** Rate of change in the unit that is reported (% for conductivity), per minute. */
  per_min: number | null;
  stability: Stability | null;
  /** The last minute, for the chart; t in device seconds. */
  samples: StreamSample[];
}

export interface Live {
  connected: boolean;
  medium: string | null;
  /** Every sensor that is waited for is in a solution. */
  inSolution: boolean;
  temperature_c: number | null;
  seconds_in_solution: number;
  channels: Partial<Record<Measurand, LiveChannel>>;
  /** Every sensor that is waited for is steady. */
  steady: boolean;
}

const silent: Live = {
  connected: false,
  medium: null,
  inSolution: false,
  temperature_c: null,
  seconds_in_solution: 0,
  channels: {},
  steady: false,
};

export interface Watched {
  measurands: readonly Measurand[];
  rules: HouseRules;
  /** The signal of the oxygen sensor in air, where a calibration gives it: what its limits are held against. */
  oxygenSpan: number;
}

/** A sensor without a calibration gives about this in air, nA. */
export const usualOxygenSpan = 90;

/** What the last minute of one sensor says, by the house rule of its measurand. */
function assess(
  samples: StreamSample[],
  temperature: number,
  ok: boolean,
  measurand: Measurand,
  watched: Watched,
): LiveChannel {
  const last = samples.at(-1)?.value ?? Number.NaN;
  const rule = watched.rules[measurand].steady;
  const perUnit = signalPerUnit(measurand, last, temperature, watched.oxygenSpan);
  const stability = ok
    ? assessStability(samples, {
        window_s: rule.window_s,
        max_slope_per_min: rule.per_min * perUnit,
        max_scatter: rule.scatter * perUnit,
      })
    : null;
  const slope = stability?.slope_per_min ?? Number.NaN;
  return {
    value: last,
    inSolution: ok,
    per_min: Number.isFinite(slope) ? slope / perUnit : null,
    stability,
    samples: [...samples],
  };
}

/** So soon what reads a stream is asked for again where it could not be fetched. */
const again_ms = 5000;

/**
 * Listens to a meter's stream and judges how steady each watched sensor is since the probe entered its solution.
 * A change of `step` forgets what was heard: a probe that was steady in the rinse water is not steady in the buffer.
 */
export function useDeviceStream(meterId: string | null, watched: Watched, step: string): Live {
  const [heard, setHeard] = useState<{ live: Live; step: string }>({ live: silent, step });
  const stepRef = useRef(step);
  stepRef.current = step;
  const watchedRef = useRef(watched);
  watchedRef.current = watched;
  useEffect(() => {
    if (!meterId) return;
    let source: EventSource | null = null;
    let left = false;
    // What reads the stream is loaded by pages that listen to one.
    const begin = ({ readMedium, readSamples }: typeof import("./deviceFrames")) => {
      if (left) return;
      source = new EventSource(`/devices/${meterId}/stream`);
      let samples: Partial<Record<Measurand, StreamSample[]>> = {};
      let samplesOf = stepRef.current;
      let medium: MediumFrame | null = null;
      source.addEventListener("medium", (event) => {
        medium = readMedium(event.data);
        samples = {};
      });
      source.onmessage = (event: MessageEvent<string>) => {
        const fresh = readSamples(event.data);
        const last = fresh.at(-1);
        if (!last) return;
        if (samplesOf !== stepRef.current) samples = {};
        samplesOf = stepRef.current;
        const now = watchedRef.current;
        const channels: Live["channels"] = {};
        for (const measurand of now.measurands) {
          const own = fresh.filter((s) => s.quantity === measurand);
          const kept = [...(samples[measurand] ?? []), ...own.map((s) => ({ t_s: s.t, value: s.value }))];
          samples[measurand] = kept.filter((s) => s.t_s >= last.t - 60);
          const ok = own.at(-1)?.status === "ok";
          channels[measurand] = assess(samples[measurand] ?? [], last.temperature_c, ok, measurand, now);
        }
        const all = Object.values(channels);
        setHeard({
          step: samplesOf,
          live: {
            connected: true,
            medium: medium?.label ?? null,
            inSolution: all.length > 0 && all.every((c) => c.inSolution),
            temperature_c: last.temperature_c,
            seconds_in_solution: medium ? last.t - medium.entered_s : 0,
            channels,
            steady: all.length > 0 && all.every((c) => c.stability?.state === "stable"),
          },
        });
      };
      source.onerror = () =>
        setHeard((before) => ({ ...before, live: { ...before.live, connected: false } }));
    };
    let timer: ReturnType<typeof setTimeout> | undefined;
    const listen = () =>
      void import("./deviceFrames").then(begin, () => {
        if (!left) timer = setTimeout(listen, again_ms);
      });
    listen();
    return () => {
      left = true;
      clearTimeout(timer);
      source?.close();
    };
  }, [meterId]);
  // What was heard in the step before says nothing of this one.
  return heard.step === step ? heard.live : { ...heard.live, steady: false, channels: {} };
}
