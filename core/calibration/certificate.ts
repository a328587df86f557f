import type { CalibrationVerdict, Finding } from "../judgement/finding";
import { worstFirst } from "../judgement/finding";
import { formatNumber, formatSigned } from "../quantity/format";
import { type Measurand, measurandFacts } from "../quantity/measurand";
import { showDate } from "../time/words";
import { showFigure } from "./kinds";
import { stationName } from "./planned";
import type { CalibrationPoint, MeasurandResult } from "./result";
import type { CalibrationState } from "./session";

/** A calibration as it is printed: the same content for paper and for PDF. */
export interface Certificate {
  number: string;
  title: string;
  facts: [label: string, value: string][];
  sections: {
    title: string;
    verdict: CalibrationVerdict;
    valid: string;
    figures: [label: string, value: string][];
    columns: string[];
    rows: string[][];
    findings: { verdict: string; sentence: string; detail: string }[];
    diagnoses: string[];
  }[];
  closing: string[];
}

export interface CertifiedMeasurand {
  measurand: Measurand;
  verdict: CalibrationVerdict;
  valid_until: string;
  result: MeasurandResult;
  findings: Finding[];
}

const verdictWords = { ok: "sound", qualify: "with a note", hold: "not met" } as const;

function pointRow(p: CalibrationPoint): string[] {
  const facts = measurandFacts[p.measurand];
  const digits = p.measurand === "ph" ? 3 : facts.decimals + (p.measurand === "conductivity" ? 1 : 0);
  const read =
    p.signal === null
      ? `${formatNumber(p.as_found ?? Number.NaN, facts.decimals)}${p.as_left === null ? "" : ` > ${formatNumber(p.as_left, facts.decimals)}`}`
      : `${formatNumber(p.signal, facts.signal.decimals)} ${facts.signal.unit}`;
  const { standard } = p;
  return [
    stationName(p),
    standard ? standard.code : "–",
    `${formatNumber(p.true_value, digits)}${standard ? ` ± ${formatNumber(standard.uncertainty, digits)}` : ""} ${facts.unit}`,
    read,
    `${formatNumber(p.temperature_c, 1)} °C`,
    p.found === null ? "" : `${formatSigned(p.found - p.true_value, digits)} ${facts.unit}`,
  ];
}

/**
 * The certificate of a finished calibration, in words and numbers ready for print. `show` writes a moment in the
 * organisation's zone; `sensors` are their names by their ids. Source: the judged calibration itself; nothing is computed anew.
 * Check value: a calibration of two measurands has two sections.
 */
export function certificateOf(
  work: { id: string; finished_at: string; by: string; rules_version: number },
  state: Pick<CalibrationState, "meter" | "conditions" | "notes">,
  measured: readonly CertifiedMeasurand[],
  show: (iso: string) => string,
  sensors: Readonly<Record<string, string>>,
): Certificate {
  const { meter, conditions } = state;
  return {
    number: work.id,
    title: `Calibration of ${meter.code}`,
    facts: [
      ["Instrument", `${meter.code}, ${meter.name}`],
      ["Finished", show(work.finished_at)],
      ["By", work.by],
      ...meter.channels
        .filter((c) => measured.some((m) => m.measurand === c.measurand))
        .map((c): [string, string] => [
          `Sensor, ${measurandFacts[c.measurand].word}`,
          `${sensors[c.sensor_id] ?? "–"}, in use since ${showDate(c.sensor_since)}`,
        ]),
      ...(conditions
        ? ([
            [
              "Air pressure",
              `${formatNumber(conditions.pressure_hpa, 1)} hPa here (${formatNumber(conditions.pressure_typed_hpa, 1)} hPa ${conditions.pressure_kind === "station" ? "read here" : "at sea level"}, ${formatNumber(conditions.altitude_m, 0)} m)`,
            ],
            [
              "Salinity",
              conditions.salinity_known
                ? formatNumber(conditions.salinity, 1)
                : "not measured; fresh water assumed",
            ],
          ] as [string, string][])
        : []),
    ],
    sections: measured.map(({ measurand, verdict, valid_until, result, findings }) => ({
      title: measurandFacts[measurand].name,
      verdict,
      valid: verdict === "failed" ? "Not to be used." : `Valid until ${show(valid_until)}.`,
      figures: result.figures.map((f): [string, string] => [f.label, showFigure(f)]),
      columns: [
        "Standard",
        "Lot",
        "True value",
        result.basis === "display" ? "As found > as left" : "Read",
        "At",
        "Found − true",
      ],
      rows: result.points.map(pointRow),
      findings: worstFirst(findings).map((f) => ({
        verdict: verdictWords[f.severity],
        sentence: f.sentence,
        detail: `${f.measured}${f.limit === "–" ? "" : `; limit ${f.limit}`}`,
      })),
      diagnoses: result.diagnoses.map((d) => `${d.sentence} ${d.action}`),
    })),
    closing: [
      ...state.notes.map((n) => `Note, ${show(n.at)}: ${n.text}`),
      `Judged by house rules version ${work.rules_version}. Raw signals are kept with the record and were not changed.`,
      "This sheet speaks of the instrument with the sensors named, on the day named.",
    ],
  };
}
