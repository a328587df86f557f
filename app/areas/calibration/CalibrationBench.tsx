import { currentStation } from "../../../core/bench/station";
import { phCalibrationResult } from "../../../core/calibration/phResult";
import { bufferName, type CalibrationEvent, type CalibrationState } from "../../../core/calibration/session";
import { formatNumber, formatSigned } from "../../../core/quantity/format";
import { bufferPh } from "../../../core/reference/phBuffers";
import type { LoadedCalibration } from "../../server/calibrationPage.server";
import { StationBench, type StationMoves } from "../../shared/bench/StationBench";
import type { Bench } from "../../shared/bench/useBench";
import { EvidencePanel, Rows } from "../../shared/EvidencePanel";
import { SlopeStory } from "./SlopeStory";

export function CalibrationBench({
  loaded,
  bench,
  state,
  moves,
  onAbandon,
}: {
  loaded: LoadedCalibration;
  bench: Bench<CalibrationState, CalibrationEvent>;
  state: CalibrationState;
  moves: StationMoves;
  onAbandon(): void;
}) {
  const { meter, rules, work } = loaded;
  const stations = state.stations.map((station) => {
    const label = formatNumber(station.lot.nominal_ph, 2);
    const { capture } = station;
    const kept = capture
      ? capture.signal_mv === null
        ? `showed ${formatNumber(capture.displayed_ph ?? Number.NaN, 2)}`
        : `${formatNumber(capture.signal_mv, 1)} mV`
      : null;
    const check = station.role === "check";
    return {
      ...station,
      label,
      below: station.skipped ? "left out" : (kept ?? (check ? "check, not adjusted" : "")),
      rinseWords: "Rinse the probe with pure water. Blot it, do not wipe the glass.",
      placeWords: `Pour a fresh portion of ${check ? "check buffer" : "buffer"} ${label}, lot ${station.lot.code}, and put the probe in.`,
      inWords: `The probe is in ${label}`,
      adjustable: !check,
      skipWords: check ? "Leave the check out" : null,
    };
  });
  const probeMonths = monthsBetween(meter.probe_installed_on, work.started_at);
  const count = state.stations.filter((s) => s.role === "point").length;
  const hasCheck = state.stations.some((s) => s.role === "check");
  return (
    <>
      <main>
        <div className="pagehead bench-head">
          <div>
            <h1>Calibrate {meter.code} for pH</h1>
            <p className="sub">
              {count === 2 ? "Two" : count === 3 ? "Three" : count} buffers for water of{" "}
              {state.expected.low.toFixed(1)} – {state.expected.high.toFixed(1)}
              {hasCheck ? ", then a check" : ""}. Probe {probeMonths} months old.
            </p>
          </div>
          <button type="button" className="calm" onClick={onAbandon}>
            Give up
          </button>
        </div>
        <StationBench
          workId={work.id}
          meter={meter}
          stations={stations}
          rule={rules.ph.steady}
          moves={moves}
          canUndo={bench.canUndo}
          trouble={bench.trouble}
          unsent={bench.unsent}
          finishWords="Judge this calibration"
          toPh={() => null}
        >
          All buffers are captured. Look at the figures beside, then let the calibration be judged.
        </StationBench>
        {bench.unsent > 0 && <p className="note">{bench.unsent} kept in this browser, not yet sent.</p>}
      </main>
      <SoFar loaded={loaded} state={state} />
    </>
  );
}

const monthsBetween = (from: string, to: string) =>
  Math.max(0, Math.floor((Date.parse(to) - Date.parse(from)) / (30.44 * 86_400_000)));

function SoFar({ loaded, state }: { loaded: LoadedCalibration; state: CalibrationState }) {
  const result = phCalibrationResult(state);
  const station = state.stations[currentStation(state.stations)];
  return (
    <EvidencePanel title="What this calibration rests on">
      {result.ok && (
        <>
          <h3>So far</h3>
          <Rows
            rows={[
              ...(result.value.fit.basis === "signal"
                ? ([
                    [
                      "Slope",
                      `${formatNumber(result.value.fit.slope_mv_per_ph, 1)} mV/pH · ${formatNumber(result.value.fit.slope_percent, 1)} %`,
                    ],
                    ["Offset", `${formatSigned(result.value.fit.offset_mv, 1)} mV`],
                  ] as [string, string][])
                : ([
                    ["Apparent slope", `${formatNumber(result.value.fit.apparent_slope_percent, 1)} %`],
                    ["Apparent offset", `${formatSigned(result.value.fit.apparent_offset_ph, 2)} pH`],
                  ] as [string, string][])),
              ["Buffers apart", `${formatNumber(result.value.highest_ph - result.value.lowest_ph, 2)} pH`],
              ...(result.value.check
                ? ([["Check", `${formatSigned(result.value.check.error_ph, 3)} pH`]] as [string, string][])
                : []),
            ]}
          />
        </>
      )}
      {station && (
        <>
          <h3>Buffer in the beaker</h3>
          <Rows
            rows={[
              ["Lot", station.lot.code],
              ["Value at 20 °C", valueAt(station.lot.table, 20, station.lot.uncertainty_ph)],
              ["Value at 25 °C", valueAt(station.lot.table, 25, station.lot.uncertainty_ph)],
            ]}
          />
          <p className="quiet small" style={{ marginTop: 6 }}>
            {bufferName(station)}: {station.lot.condition_sentence} The value at the temperature captured is
            used.
          </p>
        </>
      )}
      <SlopeStory slopes={loaded.slopes} forecast={loaded.forecast} rules={loaded.rules} />
      <h3>House rules in force</h3>
      <p className="quiet small">
        Slope {loaded.rules.ph.slope_sound_percent.join(" – ")} % · offset within{" "}
        {loaded.rules.ph.offset_sound_mv} mV · check within {loaded.rules.ph.check_ph[loaded.meter.place]} pH
        · valid for the day. Version {loaded.version}.
      </p>
    </EvidencePanel>
  );
}

function valueAt(
  table: { temperature_c: number; ph: number }[],
  temperature: number,
  uncertainty: number,
): string {
  const ph = bufferPh(table, temperature);
  return ph.ok ? `${formatNumber(ph.value, 3)} ± ${formatNumber(uncertainty, 3)}` : "not in its table";
}
