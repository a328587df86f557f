import { lazy } from "react";
import { formatNumber } from "../../../core/quantity/format";
import { InBrowser } from "../charts/InBrowser";
import type { Live, SteadyRule } from "./useDeviceStream";

const LiveChart = lazy(() => import("./LiveChart"));

/** What the stability detector makes of the moment, in the technician's words. */
function settleWords(live: Live): { state: "off" | "settling" | "steady"; text: string } {
  if (!live.connected) return { state: "off", text: "No signal from the meter. It will connect by itself." };
  if (!live.inSolution) return { state: "off", text: "The probe is in the air." };
  if (live.stability?.state === "stable") return { state: "steady", text: "Steady" };
  const left = live.stability?.seconds_to_stable;
  if (left === null || left === undefined) return { state: "settling", text: "Settling" };
  return {
    state: "settling",
    text: left > 180 ? "Settling slowly" : `Settling, about ${Math.max(1, Math.round(left))} s`,
  };
}

/** The live value, large; how steady it is; and the last minute as a line. `ph` is shown where a line exists. */
export function SignalCard({ live, rule, ph }: { live: Live; rule: SteadyRule; ph: number | null }) {
  const words = settleWords(live);
  const moving = live.slope_ph_per_min;
  const mainValue = ph === null ? live.value : ph;
  return (
    <div className="signal sheet">
      <div className="signal-value">
        <div className="quiet">{ph === null ? "Signal now" : "pH now"}</div>
        <div className="huge m" data-testid="live-value">
          {mainValue === null ? "–" : formatNumber(mainValue, ph === null ? 1 : 2)}
        </div>
        <div className="units">
          <span>
            {ph === null ? "mV" : `pH${live.value === null ? "" : ` · ${formatNumber(live.value, 1)} mV`}`}
          </span>
          <span className="m">
            {live.temperature_c === null ? "" : `${formatNumber(live.temperature_c, 1)} °C`}
          </span>
        </div>
        <div className={`settle ${words.state}`} role="status">
          <svg width="22" height="22" viewBox="0 0 22 22" aria-hidden="true">
            <circle cx="11" cy="11" r="8" />
            {words.state === "settling" && <path d="M11 3a8 8 0 1 1-7.6 5.5" />}
          </svg>
          {words.text}
        </div>
        <div className="quiet small">
          {moving === null
            ? `steady below ${rule.slope_ph_per_min} pH/min`
            : `moving ${formatNumber(Math.abs(moving), 3)} pH/min, steady below ${rule.slope_ph_per_min}`}
        </div>
      </div>
      <div className="signal-chart">
        <InBrowser>
          <LiveChart samples={live.samples} steady={words.state === "steady"} />
        </InBrowser>
      </div>
    </div>
  );
}
