import { formatNumber } from "../../../core/quantity/format";
import { type Measurand, measurandFacts } from "../../../core/quantity/measurand";
import type { HouseRules } from "../../../core/rules/houseRules";
import { InBrowser } from "../charts/InBrowser";
import { lazyPart } from "../lazyPart";
import type { Live, LiveChannel } from "./useDeviceStream";

const LiveChart = lazyPart(() => import("./LiveChart"));

/** Reported value of a live signal where a calibration gives one; conductivity comes at 25 °C. */
export type ToValue = (measurand: Measurand, signal: number, temperatureC: number) => number | null;

type Settling = { state: "off" | "settling" | "steady"; text: string };

/** What the stability detector makes of the moment, in the technician's words. */
function settleWords(live: Live, waiting: LiveChannel | undefined): Settling {
  if (!live.connected) return { state: "off", text: "No signal from the meter. It will connect by itself." };
  if (!live.inSolution) return { state: "off", text: "The probe is in the air." };
  if (live.steady) return { state: "steady", text: "Steady" };
  const left = waiting?.stability?.seconds_to_stable;
  if (left === null || left === undefined) return { state: "settling", text: "Settling" };
  return {
    state: "settling",
    text: left > 180 ? "Settling slowly" : `Settling, about ${Math.max(1, Math.round(left))} s`,
  };
}

const steadyUnit = (m: Measurand) => (m === "conductivity" || m === "volume" ? "%" : measurandFacts[m].unit);

/** The live value, large, with how steady it is and the last minute as a line; further sensors stand beside it. */
export function SignalCard({
  live,
  rules,
  measurands,
  toValue,
}: {
  live: Live;
  rules: HouseRules;
  measurands: readonly Measurand[];
  toValue: ToValue;
}) {
  // The sensor that is waited for longest has the large place.
  const slowest =
    measurands.find((m) => live.channels[m] && live.channels[m]?.stability?.state !== "stable") ??
    measurands[0];
  const main = measurands.length > 1 ? slowest : measurands[0];
  if (!main) return null;
  const channel = live.channels[main];
  const words = settleWords(live, channel);
  const shown = shownValue(main, channel, live, toValue);
  return (
    <div className="signal sheet">
      <div className="signal-value">
        <div className="quiet">
          {shown.raw ? `${measurandFacts[main].name}: signal now` : `${measurandFacts[main].name} now`}
        </div>
        <div className="huge m" data-testid="live-value">
          {shown.text}
        </div>
        <div className="units">
          <span>
            {shown.unit}
            {shown.signal && ` · ${shown.signal}`}
          </span>
          <span className="m">
            {live.temperature_c === null || main === "temperature"
              ? ""
              : `${formatNumber(live.temperature_c, 1)} °C`}
          </span>
        </div>
        {measurands.length > 1 && (
          <ul className="live-others">
            {measurands
              .filter((m) => m !== main)
              .map((m) => {
                const other = shownValue(m, live.channels[m], live, toValue);
                const steady = live.channels[m]?.stability?.state === "stable";
                return (
                  <li key={m} className={steady ? "steady" : ""}>
                    <span>{measurandFacts[m].name}</span>
                    <b className="m">{other.text}</b>
                    <small>{other.unit}</small>
                  </li>
                );
              })}
          </ul>
        )}
        <div className={`settle ${words.state}`} role="status">
          <svg width="22" height="22" viewBox="0 0 22 22" aria-hidden="true">
            <circle cx="11" cy="11" r="8" />
            {words.state === "settling" && <path d="M11 3a8 8 0 1 1-7.6 5.5" />}
          </svg>
          {words.text}
        </div>
        <div className="quiet small">
          {channel?.per_min === null || channel?.per_min === undefined
            ? `steady below ${rules[main].steady.per_min} ${steadyUnit(main)}/min`
            : `moving ${formatNumber(Math.abs(channel.per_min), 3)} ${steadyUnit(main)}/min, steady below ${rules[main].steady.per_min}`}
        </div>
      </div>
      <div className="signal-chart">
        <InBrowser>
          <LiveChart
            samples={channel?.samples ?? []}
            steady={channel?.stability?.state === "stable"}
            unit={measurandFacts[main].signal.unit}
          />
        </InBrowser>
      </div>
    </div>
  );
}

interface Shown {
  text: string;
  unit: string;
  /** Shown is the raw signal, because nothing turns it into a value yet. */
  raw: boolean;
  /** The signal beside the value, where it differs. */
  signal: string | null;
}

function shownValue(m: Measurand, channel: LiveChannel | undefined, live: Live, toValue: ToValue): Shown {
  const facts = measurandFacts[m];
  if (!channel || !Number.isFinite(channel.value) || live.temperature_c === null)
    return { text: "–", unit: facts.unit, raw: false, signal: null };
  const value = toValue(m, channel.value, live.temperature_c);
  const signal = `${formatNumber(channel.value, facts.signal.decimals)} ${facts.signal.unit}`;
  if (value === null) {
    return {
      text: formatNumber(channel.value, facts.signal.decimals),
      unit: facts.signal.unit,
      raw: true,
      signal: null,
    };
  }
  const same = m === "temperature" || m === "redox" || m === "absorbance";
  return {
    text: formatNumber(value, facts.decimals),
    unit: m === "conductivity" ? "µS/cm at 25 °C" : facts.unit,
    raw: false,
    signal: same ? null : m === "conductivity" ? `${signal} raw` : signal,
  };
}
