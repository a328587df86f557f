import { showDuplicateRule } from "../../../core/judgement/duplicates";
import { formatNumber } from "../../../core/quantity/format";
import { magnitudeSlip } from "../../../core/quantity/magnitude";
import { formatMeasured, type Measurand, measurandFacts } from "../../../core/quantity/measurand";
import { ordinals } from "../../../core/quantity/ordinals";
import {
  isOneReading,
  type MeterReadingEvent,
  type MeterReadingState,
  portionValue,
  readingOutcome,
  reportValue,
} from "../../../core/readings/meterReading";
import { showTime } from "../../../core/time/words";
import type { LoadedReading } from "../../server/results/readingPage.server";
import type { Waited } from "../../server/results/waited.server";
import { StationBench, type StationMoves } from "../../ui/bench/StationBench";
import type { Bench } from "../../ui/bench/useBench";
import { usualOxygenSpan } from "../../ui/bench/useDeviceStream";
import { EvidencePanel, Rows } from "../../ui/EvidencePanel";
import { VerdictMark } from "../../ui/VerdictMark";
import { WaitedNote } from "../../ui/WaitedNote";

const times = { 2: "twice", 3: "three times" } as const;

/** What an oxygen sensor gave in air when it was calibrated. */
function oxygenSpanOf(state: MeterReadingState): number {
  const oxygen = state.calibrations.find((c) => c.measurand === "oxygen")?.coefficients;
  return oxygen?.kind === "oxygen" ? oxygen.span_signal - oxygen.zero_signal : usualOxygenSpan;
}

/** What of the chosen quantities the water of a bottle has waited too long for, before anybody reads it. */
function waitedFor({ waited }: LoadedReading, { in_place, measurands }: MeterReadingState): Waited | null {
  const late = waited?.late.filter((l) => measurands.some((m) => m === l.parameter)) ?? [];
  return waited && !in_place && late.length > 0 ? { ...waited, late } : null;
}

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
  const waited = waitedFor(loaded, state);
  const first = state.measurands[0] as Measurand;
  const several = state.measurands.length > 1;
  const stations = state.stations.map((station, i) => {
    const value = portionValue(state, station, first);
    return {
      ...station,
      measurands: state.measurands,
      label: value === null || several ? `${i + 1}` : formatNumber(value, measurandFacts[first].decimals),
      below:
        value === null
          ? inPlaceOr(state, i, `${ordinals[i]} portion`)
          : several
            ? state.measurands
                .map((m) => formatMeasured(portionValue(state, station, m) ?? Number.NaN, m))
                .join(" · ")
            : "kept",
      rinseWords: state.in_place
        ? "Rinse the probe with the water it will be in."
        : `Rinse the probe with pure water, then ${times[rules.calibration.rinses]} with the sample. Blot it, do not wipe.`,
      placeWords: state.in_place
        ? `Put the probe into the moving water, upstream of your feet, and let go of the cable.${state.measurands.includes("oxygen") ? " The water must move past the membrane." : ""}`
        : `Pour the ${ordinals[i]} portion of ${state.sample} and put the probe in, below the surface, without bubbles.${state.measurands.includes("oxygen") ? " Keep the water moving past the membrane." : ""}`,
      inWords: state.in_place ? "The probe is in the water" : "The probe is in the sample",
      adjustable: false,
      skipWords: null,
    };
  });
  const toValue = (measurand: Measurand, signal: number, temperatureC: number) =>
    reportValue(state, { measurand, signal, displayed: null }, temperatureC);
  const guard = (measurand: Measurand, value: number, temperatureC: number) => {
    const shown =
      measurand === "oxygen" ? reportValue(state, typedAs(state, measurand, value), temperatureC) : value;
    return magnitudeSlip(shown ?? value, loaded.usual[measurand] ?? null, measurand);
  };
  return (
    <>
      <main>
        <div className="pagehead bench-head">
          <div>
            <h1>
              {state.site.name}
              {several ? "" : `, ${measurandFacts[first].name}`}
            </h1>
            <p className="sub">
              {state.in_place
                ? `In the water, with ${meter.code}.`
                : `Sample ${state.sample} with ${meter.code}, in duplicate.`}
              {state.stations.length > 2 && " The first two disagree: a third decides."}
            </p>
          </div>
          <button type="button" className="calm" onClick={onAbandon}>
            Give up
          </button>
        </div>
        {waited && (
          <WaitedNote waited={waited} wordOf={(m) => measurandFacts[m as Measurand].word} zone={rules.zone} />
        )}
        <StationBench
          workId={work.id}
          meter={state.meter}
          stations={stations}
          rules={rules}
          oxygenSpan={oxygenSpanOf(state)}
          moves={moves}
          canUndo={bench.canUndo}
          trouble={bench.trouble}
          unsent={bench.unsent}
          finishWords="Judge this reading"
          toValue={toValue}
          guard={guard}
        >
          <ul className="outcomes">
            {state.measurands.map((m) => (
              <li key={m}>{outcomeWords(state, m)}</li>
            ))}
          </ul>
        </StationBench>
      </main>
      <EvidencePanel title="What this reading will rest on">
        <h3>Calibration in force</h3>
        {state.measurands.map((m) => {
          const calibration = state.calibrations.find((c) => c.measurand === m);
          return calibration ? (
            <Rows
              key={m}
              rows={[
                [
                  several ? measurandFacts[m].name : showTime(calibration.finished_at, rules.zone, "both"),
                  <VerdictMark key="v" verdict={calibration.verdict} word />,
                ],
                ["Known by", calibration.headline],
              ]}
            />
          ) : (
            <p className="quiet" key={m}>
              {measurandFacts[m].name}: none.
            </p>
          );
        })}
        <h3>House rules in force</h3>
        {isOneReading(state) ? (
          <p className="quiet small">In the water itself one reading counts, once the signal is steady.</p>
        ) : (
          <p className="quiet small">
            Duplicates{" "}
            {state.measurands
              .map(
                (m) =>
                  `${several ? `of ${measurandFacts[m].word} ` : ""}${showDuplicateRule(state.duplicates[m] ?? { kind: "relative", limit: 20 }, m)}`,
              )
              .join(", ")}
            ; otherwise a third portion, and any two that agree count. The mean is reported.
          </p>
        )}
        <h3>Careful</h3>
        <p className="quiet small">
          Gloves on; wash your hands after handling unknown water. Deep or moving water: never alone.
          Unreacted sample may go back to the water it came from.
        </p>
      </EvidencePanel>
    </>
  );
}

/** What stands under a beaker that is none: the water itself, or the first and the second look at it. */
const inPlaceOr = ({ in_place, stations }: MeterReadingState, i: number, portion: string): string =>
  !in_place ? portion : stations.length > 1 ? `${ordinals[i]} look` : "in the water";

/** A typed value as the capture will hold it: a signal or a display, as the meter shows. */
function typedAs(state: MeterReadingState, measurand: Measurand, value: number) {
  const signal = state.meter.channels.find((c) => c.measurand === measurand)?.display === "signal";
  return { measurand, signal: signal ? value : null, displayed: signal ? null : value };
}

function outcomeWords(state: MeterReadingState, measurand: Measurand): string {
  const { values, outcome } = readingOutcome(state, measurand);
  const facts = measurandFacts[measurand];
  const shown = values.map((v) => formatMeasured(v, measurand)).join(", ");
  const rule = state.duplicates[measurand];
  if (isOneReading(state)) return `${shown}, read once in the water.`;
  return outcome.mean === null
    ? `${shown}: no two agree within ${rule ? showDuplicateRule(rule, measurand) : "the rule"}. Collect a new sample after this.`
    : `${shown}: ${formatNumber(outcome.difference, facts.decimals)} ${facts.unit} apart, the mean is ${formatMeasured(outcome.mean, measurand)}.`;
}
