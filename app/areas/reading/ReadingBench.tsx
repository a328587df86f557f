import {
  type MeterReadingEvent,
  type MeterReadingState,
  portionPh,
  readingOutcome,
} from "../../../core/analysis/meterReading";
import { phFromMv } from "../../../core/calibration/phFit";
import { formatNumber } from "../../../core/quantity/format";
import type { LoadedReading } from "../../server/readingPage.server";
import { StationBench, type StationMoves } from "../../shared/bench/StationBench";
import type { Bench } from "../../shared/bench/useBench";
import { EvidencePanel, Rows } from "../../shared/EvidencePanel";
import { showTime } from "../../shared/time";
import { VerdictMark } from "../../shared/VerdictMark";

const ordinals = ["first", "second", "third"];

export function ReadingBench({
  loaded,
  bench,
  state,
  moves,
  onAbandon,
}: {
  loaded: LoadedReading;
  bench: Bench<MeterReadingState, MeterReadingEvent>;
  state: MeterReadingState;
  moves: StationMoves;
  onAbandon(): void;
}) {
  const { meter, rules, work } = loaded;
  const { calibration } = state;
  const { values, outcome } = readingOutcome(state);
  const stations = state.stations.map((station, i) => {
    const ph = portionPh(state, station);
    return {
      ...station,
      label: ph === null ? `${i + 1}` : formatNumber(ph, 2),
      below: ph === null ? `${ordinals[i]} portion` : "kept",
      rinseWords: `Rinse the probe with pure water, then with the sample. Blot it, do not wipe the glass.`,
      placeWords: `Pour the ${ordinals[i]} portion of ${state.sample} and put the probe in, below the surface, without bubbles.`,
      inWords: "The probe is in the sample",
      adjustable: false,
      skipWords: null,
    };
  });
  const toPh = (mv: number, temperatureC: number) =>
    calibration?.basis === "signal"
      ? phFromMv(mv, temperatureC, calibration.slope_percent, calibration.offset_mv)
      : null;
  const shown = values.map((v) => formatNumber(v, 2)).join(", ");
  return (
    <>
      <main>
        <div className="pagehead bench-head">
          <div>
            <h1>{state.site.name}, pH</h1>
            <p className="sub">
              Sample {state.sample} with {meter.code}, in duplicate.
              {state.stations.length > 2 && " The first two disagree: a third decides."}
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
          finishWords="Judge this reading"
          toPh={toPh}
        >
          {outcome.mean === null
            ? `${shown}: no two agree within ${state.duplicate_ph} pH. Collect a new sample after this.`
            : `${shown}: ${formatNumber(outcome.difference, 2)} pH apart. The mean is pH ${formatNumber(outcome.mean, 2)}.`}
        </StationBench>
      </main>
      <EvidencePanel title="What this reading will rest on">
        <h3>Calibration in force</h3>
        {calibration ? (
          <Rows
            rows={[
              [
                showTime(calibration.finished_at, rules.zone, "both"),
                <VerdictMark key="v" verdict={calibration.verdict} word />,
              ],
              ["Slope", `${formatNumber(calibration.slope_percent, 1)} %`],
              ["Offset", `${formatNumber(calibration.offset_mv, 1)} mV`],
              [
                "Between buffers",
                `${formatNumber(calibration.lowest_ph, 2)} – ${formatNumber(calibration.highest_ph, 2)}`,
              ],
            ]}
          />
        ) : (
          <p className="quiet">None. This reading will be held until there is one.</p>
        )}
        <h3>Portions so far</h3>
        {values.length ? (
          <Rows rows={values.map((v, i) => [ordinals[i], `pH ${formatNumber(v, 3)}`])} />
        ) : (
          <p className="quiet">None yet.</p>
        )}
        <h3>House rules in force</h3>
        <p className="quiet small">
          Duplicates at most {state.duplicate_ph} pH apart; otherwise a third portion, and any two that agree
          count. The mean is reported.
        </p>
        <h3>Careful</h3>
        <p className="quiet small">
          Gloves on; wash your hands after handling unknown water. Unreacted sample may go back to the water
          it came from.
        </p>
      </EvidencePanel>
    </>
  );
}
