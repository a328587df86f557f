import { measuredOf } from "../../../core/bench/measured";
import { channelOf } from "../../../core/bench/meter";
import { currentStation } from "../../../core/bench/station";
import { checkOutcomes } from "../../../core/calibration/check";
import { valueFrom } from "../../../core/calibration/convert";
import { judgeMeasurand, showFigure } from "../../../core/calibration/kinds";
import { mayLeaveOut, stationName } from "../../../core/calibration/planned";
import { measurandsOf } from "../../../core/calibration/result";
import type {
  CalibrationEvent,
  CalibrationState,
  CalibrationStation,
} from "../../../core/calibration/session";
import { formatNumber, formatSigned } from "../../../core/quantity/format";
import { magnitudeSlip } from "../../../core/quantity/magnitude";
import { formatMeasured, type Measurand, measurandFacts } from "../../../core/quantity/measurand";
import { certifiedValue } from "../../../core/reference/certificate";
import { oxygenSaturation } from "../../../core/reference/oxygen";
import type { HouseRules } from "../../../core/rules/houseRules";
import { standardFacts } from "../../../core/stock/standard";
import type { LoadedCalibration } from "../../server/calibrations/calibrationPage.server";
import { type BenchStation, StationBench, type StationMoves } from "../../ui/bench/StationBench";
import type { Bench } from "../../ui/bench/useBench";
import { usualOxygenSpan } from "../../ui/bench/useDeviceStream";
import { EvidencePanel, Rows } from "../../ui/EvidencePanel";
import { TrendStory } from "../../ui/TrendStory";

const times = { 2: "twice", 3: "three times" } as const;

/** What stands on the beaker: a number where there is one, otherwise a word. */
function labelOf(station: CalibrationStation): string {
  const { standard, role, measurand } = station;
  if (standard && standard.kind !== "zero-oxygen")
    return formatNumber(standard.nominal, standardFacts[standard.kind].decimals);
  if (role === "zero") return "zero";
  if (role === "span") return "air";
  if (role === "blank") return measurand === "absorbance" ? "blank" : "rinse";
  return measurand === "temperature" ? "beside" : "weigh";
}

function keptWords(station: CalibrationStation): string {
  const value = station.capture && measuredOf(station.capture, station.measurand);
  if (!value) return "";
  const facts = measurandFacts[station.measurand];
  return value.signal === null
    ? `showed ${formatNumber(value.displayed ?? Number.NaN, facts.decimals)}`
    : `${formatNumber(value.signal, facts.signal.decimals)} ${facts.signal.unit}`;
}

/** What to do at a station, in the technician's words. */
function wordsOf(
  station: CalibrationStation,
  rules: HouseRules,
  check: boolean,
): Pick<BenchStation, "rinseWords" | "placeWords" | "inWords"> {
  const name = stationName(station);
  const lot = station.standard ? `, lot ${station.standard.code},` : "";
  const rinses = times[rules.calibration.rinses];
  const pure = `Rinse the probe ${rinses} with pure water. Blot it, do not wipe.`;
  const after = check ? " Do not adjust anything." : "";
  switch (station.role) {
    case "span":
      return {
        rinseWords: `${pure} Shake off the drops: the membrane must be free of water.`,
        placeWords:
          rules.oxygen.points === "air-saturated-water"
            ? `Stir clean water with air for ten minutes and put the probe in.${after}`
            : `Hang the probe in the damp cup, a finger above the water, not drowned. Wait five minutes at one temperature.${after}`,
        inWords:
          rules.oxygen.points === "air-saturated-water"
            ? "The probe is in the aerated water"
            : "The probe is in damp air",
      };
    case "zero":
      return {
        rinseWords: pure,
        placeWords: `Pour fresh zero solution${lot} and put the probe in without bubbles. Gloves and glasses on: sulfite irritates. Rinse very thoroughly afterwards, sulfite eats oxygen.`,
        inWords: "The probe is in the zero solution",
      };
    case "blank":
      return station.measurand === "absorbance"
        ? {
            rinseWords: "Rinse the cuvette with the sample, wipe its windows, hold it by the ribbed sides.",
            placeWords:
              "Fill it with the sample itself, before any reagent, close the lid and set the photometer to zero.",
            inWords: "The blank is in the photometer",
          }
        : {
            rinseWords: pure,
            placeWords:
              "Fill a clean cup with the rinse water itself and put the cell in, electrodes covered.",
            inWords: "The cell is in the rinse water",
          };
    default:
      break;
  }
  switch (station.measurand) {
    case "temperature":
      return {
        rinseWords: "Rinse both thermometers. Blot them.",
        placeWords:
          "Put both into the same stirred water, side by side: melting ice first, then warm water. Glass breaks; mercury needs its own precautions.",
        inWords: "Both are in the same water",
      };
    case "volume":
      return {
        rinseWords: "Fill the dispenser with pure water, drive out the bubbles, dry the tip.",
        placeWords: "Set the balance to zero and deliver once, slowly and straight down.",
        inWords: "It is on the balance",
      };
    case "absorbance":
      return {
        rinseWords: "Wipe the cuvette's windows with a soft cloth.",
        placeWords: `Put ${name}${lot} into the photometer and close the lid.`,
        inWords: `${name} is in the photometer`,
      };
    default: {
      const cover =
        station.measurand === "conductivity" ? " Cover the electrodes and tap off the bubbles." : "";
      return {
        rinseWords: pure,
        placeWords: `Pour a fresh portion of ${name}${lot} and put the probe in.${cover} Never pour it back.${after}`,
        inWords: `The probe is in ${name}`,
      };
    }
  }
}

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
  const check = state.purpose === "check";
  const list = measurandsOf(state);
  const stations = state.stations.map((station): BenchStation => {
    const roleWords =
      station.role === "check" &&
      !check &&
      !["temperature", "redox", "absorbance"].includes(station.measurand)
        ? "check, not adjusted"
        : "";
    return {
      ...station,
      measurands: [station.measurand],
      label: labelOf(station),
      below: station.skipped ? "left out" : station.capture ? keptWords(station) : roleWords,
      dry: station.role === "span" || station.measurand === "volume",
      ...(list.length > 1 ? { group: measurandFacts[station.measurand].name } : {}),
      ...wordsOf(station, rules, check),
      adjustable: station.measurand === "temperature" || (!check && ["point", "span"].includes(station.role)),
      skipWords: mayLeaveOut(station, state.purpose) ? leaveWords(station) : null,
    };
  });
  const index = currentStation(state.stations);
  const inHand = state.stations[index];
  const toValue = (measurand: Measurand, signal: number, temperatureC: number) => {
    if (measurand === "temperature" || measurand === "redox" || measurand === "absorbance") return signal;
    const coefficients =
      state.calibrations.find((c) => c.measurand === measurand)?.coefficients ??
      (check ? null : (judgeMeasurand(state, measurand, rules)?.result.coefficients ?? null));
    return check || measurand === "volume"
      ? valueFrom({ measurand, signal, displayed: null }, coefficients, temperatureC)
      : null;
  };
  const guard = (measurand: Measurand, value: number, temperatureC: number) =>
    inHand ? magnitudeSlip(value, standardRange(state, inHand, measurand, temperatureC), measurand) : null;
  const words = list.map((m) => measurandFacts[m].word).join(", ");
  return (
    <>
      <main>
        <div className="pagehead bench-head">
          <div>
            <h1>
              {check ? checkTitle(state.moment) : "Calibrate"} {meter.code}
              {list.length === 1 ? ` for ${words}` : ""}
            </h1>
            <p className="sub">
              {check ? `Measure and do not adjust: ${words}.` : introduction(state, list, loaded)}
            </p>
          </div>
          <button type="button" className="calm" onClick={onAbandon}>
            Give up
          </button>
        </div>
        <StationBench
          workId={work.id}
          meter={state.meter}
          stations={stations}
          rules={rules}
          oxygenSpan={state.history.oxygen_first_sensitivity ?? usualOxygenSpan}
          moves={moves}
          canUndo={bench.canUndo}
          trouble={bench.trouble}
          unsent={bench.unsent}
          finishWords={check ? "Judge this check" : "Judge this calibration"}
          toValue={toValue}
          guard={guard}
        >
          Everything is captured. Look at the figures beside, then let it be judged.
        </StationBench>
        {bench.unsent > 0 && <p className="note">{bench.unsent} kept in this browser, not yet sent.</p>}
      </main>
      <SoFar loaded={loaded} state={state} />
    </>
  );
}

const checkTitle = (moment: CalibrationState["moment"]) =>
  moment === "closing" ? "Closing check of" : moment === "opening" ? "Opening check of" : "Control of";

const leaveWords = (station: CalibrationStation) =>
  station.role === "blank"
    ? "Leave the blank out"
    : station.role === "zero"
      ? "Leave the zero out"
      : "Leave the check out";

/** What a typed value is held against: the standard's own value, generously. */
function standardRange(
  state: CalibrationState,
  station: CalibrationStation,
  measurand: Measurand,
  temperatureC: number,
) {
  if (station.role === "zero" || station.role === "blank") return null;
  const channel = channelOf(state.meter, measurand);
  const truth =
    station.role === "span"
      ? oxygenSaturation(Math.min(40, Math.max(0, temperatureC)), state.conditions?.pressure_hpa)
      : (station.standard?.nominal ?? (measurand === "volume" ? channel?.nominal_ml : undefined));
  if (!truth || (measurand === "oxygen" && channel?.display === "signal")) return null;
  return { low: truth * 0.8, high: truth * 1.2 };
}

const counted = (n: number) =>
  (["No", "One", "Two", "Three", "Four", "Five"][n] ?? String(n)) + (n === 1 ? " buffer" : " buffers");

function introduction(
  state: CalibrationState,
  list: readonly Measurand[],
  { meter, work }: LoadedCalibration,
): string {
  const only = list.length === 1 ? list[0] : undefined;
  const channel = only && channelOf(meter, only);
  const months = channel ? monthsBetween(channel.sensor_since, work.started_at) : 0;
  if (only === "ph") {
    const points = state.stations.filter((s) => s.role === "point").length;
    const hasCheck = state.stations.some((s) => s.role === "check");
    const range = state.expected.ph;
    const water = range ? ` for water of ${range.low.toFixed(1)} – ${range.high.toFixed(1)}` : "";
    return `${counted(points)}${water}${hasCheck ? ", then a check" : ""}. Probe ${months} months old.`;
  }
  if (only)
    return `${state.stations.length} ${state.stations.length === 1 ? "step" : "steps"}. Sensor ${months} months old.`;
  return `${list.map((m) => measurandFacts[m].name).join(", ")}: what is weak first, oxygen last, a rinse before each.`;
}

const monthsBetween = (from: string, to: string) =>
  Math.max(0, Math.floor((Date.parse(to) - Date.parse(from)) / (30.44 * 86_400_000)));

function SoFar({ loaded, state }: { loaded: LoadedCalibration; state: CalibrationState }) {
  const station = state.stations[currentStation(state.stations)];
  const { rules } = loaded;
  const measurand = station?.measurand ?? measurandsOf(state)[0];
  const trend = loaded.trends.find((t) => t.measurand === measurand)?.trend;
  return (
    <EvidencePanel
      title={state.purpose === "check" ? "What this check rests on" : "What this calibration rests on"}
    >
      <FiguresSoFar state={state} rules={rules} />
      {station?.standard && (
        <>
          <h3>In the beaker</h3>
          <Rows
            rows={[
              ["Lot", station.standard.code],
              ["Value at 20 °C", valueAt(station.standard, 20)],
              ["Value at 25 °C", valueAt(station.standard, 25)],
            ]}
          />
          <p className="quiet small" style={{ marginTop: 6 }}>
            {stationName(station)}: {station.standard.condition_sentence} The value at the temperature
            captured is used.
          </p>
        </>
      )}
      {station?.role === "span" && state.conditions && (
        <>
          <h3>Saturated air</h3>
          <Rows
            rows={[
              ["Pressure here", `${formatNumber(state.conditions.pressure_hpa, 1)} hPa`],
              [
                "At 20 °C it gives",
                `${formatNumber(oxygenSaturation(20, state.conditions.pressure_hpa), 2)} mg/L`,
              ],
            ]}
          />
        </>
      )}
      {trend && measurand && <TrendStory trend={trend} zone={rules.zone} />}
      <p className="quiet small">House rules version {loaded.version}.</p>
    </EvidencePanel>
  );
}

/** The figures of what is captured already, measurand by measurand. */
function FiguresSoFar({ state, rules }: { state: CalibrationState; rules: HouseRules }) {
  if (state.purpose === "check") {
    const outcomes = checkOutcomes(state, rules);
    return outcomes.length === 0 ? null : (
      <>
        <h3>So far</h3>
        <Rows
          rows={outcomes.map((o) => [
            measurandFacts[o.measurand].name,
            `${formatMeasured(o.read_value, o.measurand)} for ${formatMeasured(o.true_value, o.measurand)} (${formatSigned(o.error, measurandFacts[o.measurand].decimals)})`,
          ])}
        />
      </>
    );
  }
  return measurandsOf(state).map((m) => {
    const judged = judgeMeasurand(state, m, rules);
    return judged === null ? null : (
      <div key={m}>
        <h3>{measurandFacts[m].name} so far</h3>
        <Rows rows={judged.result.figures.map((f) => [f.label, showFigure(f)])} />
      </div>
    );
  });
}

function valueAt(standard: NonNullable<CalibrationStation["standard"]>, temperature: number): string {
  const value = certifiedValue(standard.table, temperature);
  const { unit, decimals } = standardFacts[standard.kind];
  const digits = standard.kind === "ph-buffer" ? 3 : decimals;
  return value.ok
    ? `${formatNumber(value.value, digits)} ± ${formatNumber(standard.uncertainty, digits)} ${unit === "pH" ? "" : unit}`.trim()
    : "not in its table";
}
