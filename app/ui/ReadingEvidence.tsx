import type { ReactNode } from "react";
import { Link } from "react-router";
import type { Finding, Verdict } from "../../core/judgement/finding";
import { uncertaintyOf } from "../../core/quality/uncertainty";
import { formatNumber, formatSigned } from "../../core/quantity/format";
import { formatMeasured, type Measurand, measurandFacts } from "../../core/quantity/measurand";
import { nernstSlope } from "../../core/reference/constants";
import { oxygenSaturation } from "../../core/reference/oxygen";
import type { EvidencePoint, ReadingEvidence } from "../../core/results/evidence";
import type { Kin } from "../../core/stock/descent";
import { showTime } from "../../core/time/words";
import type { Judgement } from "../server/results/readings.server";
import { EvidenceClaim } from "./EvidenceClaim";
import { EvidencePanel, Findings, Judged, Rows } from "./EvidencePanel";
import { BottlesBehind } from "./KinTree";

import { QualityFacts } from "./QualityFacts";
import { TogetherFacts } from "./TogetherFacts";
import { UncertaintyBars } from "./UncertaintyBars";
import { VerdictMark } from "./VerdictMark";
import { Working } from "./Working";

export interface ReadingInPanel {
  value: number | null;
  measured_value: number | null;
  grade: string | null;
  parameter: Measurand;
  analyte: string;
  instrument_id: string | null;
  site: string;
  sample: string;
  by: string;
  measured_at: string;
  verdict: Verdict;
  rules_version: number;
  findings: Finding[];
  evidence: ReadingEvidence;
}

/** How the first portion's signal became its value, formula and numbers. */
function workingOf({ calibration, read_with, portions, parameter, compensation }: ReadingEvidence): string[] {
  const portion = portions[0];
  const c = (read_with ?? calibration)?.coefficients;
  if (!portion || portion.signal === null || !c) return compensation ? [compensation] : [];
  const signal = formatNumber(portion.signal, measurandFacts[parameter].signal.decimals);
  const value = formatMeasured(portion.value, parameter);
  const t = portion.temperature_c;
  switch (c.kind) {
    case "ph":
      return [
        "pH = 7 + (offset − E) / (slope · k(T))",
        c.segments
          ? `read between its two neighbouring buffers = ${value}`
          : `= 7 + (${formatNumber(c.offset_mv, 1)} − ${signal}) / (${formatNumber(c.slope_percent, 1)} % · ${formatNumber(nernstSlope(t), 2)}) = ${value}`,
      ];
    case "conductivity":
      return [
        "κ = cell factor · raw, then to 25 °C",
        `= ${formatNumber(c.cell_factor, 3)} · ${signal} at ${formatNumber(t, 1)} °C, ${compensation ?? ""} = ${value}`,
      ];
    case "oxygen":
      return [
        "DO = (s − s0) / (s1 − s0) · C",
        `= (${signal} − ${formatNumber(c.zero_signal, 2)}) / (${formatNumber(c.span_signal, 2)} − ${formatNumber(c.zero_signal, 2)}) · ${formatNumber(oxygenSaturation(t, c.pressure_hpa, c.salinity), 2)} mg/L = ${value}`,
      ];
    default:
      return [];
  }
}

/** The chain behind a reading: verdict, findings, portions, working, check, calibration, bottles, history. */
export function ReadingEvidencePanel({
  reading,
  judgements,
  behind,
  zone,
  back,
}: {
  reading: ReadingInPanel;
  judgements: readonly Judgement[];
  /** What the bottles of its calibration were made from. */
  behind: Readonly<Record<string, Kin[]>>;
  zone: string;
  back?: string;
}) {
  const { evidence, parameter } = reading;
  const { calibration, check } = evidence;
  const facts = measurandFacts[parameter];
  const working = workingOf(evidence);
  return (
    <EvidencePanel title="What this reading rests on" {...(back ? { back } : {})}>
      <EvidenceClaim result={{ ...reading, shown: null, decimals: facts.decimals, unit: facts.unit }} />
      <p className="quiet">
        {facts.name}, {reading.site}, sample {reading.sample}, {showTime(reading.measured_at, zone, "both")},{" "}
        {reading.by}
      </p>
      <h3>Findings</h3>
      <Findings findings={reading.findings} />
      <UncertaintyBars
        uncertainty={uncertaintyOf(reading.evidence)}
        unit={facts.unit}
        decimals={facts.decimals}
      />
      <QualityFacts
        reading={reading}
        quality={reading.evidence.quality}
        batch={reading.evidence.batch}
        unit={facts.unit}
        decimals={facts.decimals}
        zone={zone}
      />
      <TogetherFacts
        together={reading.evidence.together}
        value={reading.value}
        parameter={reading.evidence.parameter}
        unit={facts.unit}
        decimals={facts.decimals}
      />
      <h3>Portions measured</h3>
      <Rows
        rows={evidence.portions.map((p, i) => [
          <>
            {i + 1}{" "}
            <span className="quiet">
              {p.source === "simulated" && "simulated instrument, "}
              {p.source === "typed"
                ? p.seconds_in_solution === null
                  ? "typed"
                  : `typed after ${Math.round(p.seconds_in_solution)} s`
                : p.steady
                  ? `steady after ${Math.round(p.seconds_in_solution ?? 0)} s`
                  : "still moving"}
            </span>
          </>,
          <>
            {formatMeasured(p.value, parameter, facts.decimals + 1)}
            <span className="quiet under">
              {p.signal === null
                ? ""
                : `${formatNumber(p.signal, facts.signal.decimals)} ${facts.signal.unit} · `}
              {formatNumber(p.temperature_c, 1)} °C
            </span>
          </>,
        ])}
      />
      {working.length > 0 && <Working lines={working} />}
      {check && (
        <>
          <h3>Check that followed</h3>
          <Rows
            rows={[
              [
                <Link key="k" to={`/checks/${check.check_id.replace(/-[a-z]+$/, "")}`}>
                  {check.moment}, {showTime(check.check_at, zone, "both")}
                </Link>,
                <VerdictMark key="v" verdict={check.passed ? "sound" : "failed"} word />,
              ],
              ["Read − true", `${formatSigned(check.drift, facts.decimals + 1)} ${facts.unit}`],
              ...(check.corrected
                ? ([
                    [
                      "Measured",
                      reading.measured_value === null
                        ? "–"
                        : formatMeasured(reading.measured_value, parameter, facts.decimals + 1),
                    ],
                    [
                      "Drift taken out",
                      `${formatSigned(check.correction, facts.decimals + 1)} ${facts.unit}`,
                    ],
                  ] as [string, string][])
                : []),
              ...(check.grade ? ([["Grade of the record", check.grade]] as [string, string][]) : []),
            ]}
          />
        </>
      )}
      <h3>Calibration in force</h3>
      {calibration ? (
        <>
          <Rows
            rows={[
              [
                <Link key="c" to={`/calibrations/${calibration.id.replace(/-[a-z]+$/, "")}`}>
                  {evidence.meter.code}, {showTime(calibration.finished_at, zone, "both")}
                </Link>,
                <VerdictMark key="v" verdict={calibration.verdict} word />,
              ],
              ["Known by", calibration.headline],
              ...(evidence.read_with
                ? ([
                    [
                      `Read with that of ${showTime(evidence.read_with.finished_at, zone, "both")}`,
                      evidence.read_with.headline,
                    ],
                  ] as [string, string][])
                : []),
              ...(calibration.low !== null && calibration.high !== null
                ? ([
                    [
                      parameter === "ph" ? "Between buffers" : "For values from",
                      `${formatNumber(calibration.low, facts.decimals)} – ${formatNumber(calibration.high, facts.decimals)}`,
                    ],
                  ] as [string, string][])
                : []),
            ]}
          />
          <h3>{parameter === "ph" ? "Buffer bottles" : "Standards"}</h3>
          <Rows
            rows={[
              ...calibration.points.map((p): [ReactNode, ReactNode] => [
                <PointName key={p.name} point={p} />,
                <PointValue key="v" point={p} parameter={parameter} />,
              ]),
              ...(calibration.electrolyte
                ? [
                    [`Electrolyte, ${calibration.electrolyte.name}`, calibration.electrolyte.code] as [
                      string,
                      string,
                    ],
                  ]
                : []),
            ]}
          />
        </>
      ) : (
        <p className="quiet">None. The meter had not been calibrated.</p>
      )}
      <BottlesBehind
        lots={[
          ...(calibration?.points ?? []).map((p) => ({ lot_id: p.lot_id, code: p.lot_code ?? p.name })),
          ...(calibration?.electrolyte ? [calibration.electrolyte] : []),
        ]}
        behind={behind}
      />
      <Judged
        judgements={judgements}
        rules_version={reading.rules_version}
        zone={zone}
        under={(value) => formatMeasured(value, parameter)}
      />
    </EvidencePanel>
  );
}

const PointName = ({ point }: { point: EvidencePoint }) => (
  <>
    {point.lot_id ? <Link to={`/stock/${point.lot_id}`}>{point.lot_code}</Link> : point.name}{" "}
    <span className="quiet">
      {point.role === "check" ? "check" : ""}
      {point.lot_condition === "good" ? "" : ` ${point.lot_condition.replaceAll("-", " ")}`}
    </span>
  </>
);

function PointValue({ point, parameter }: { point: EvidencePoint; parameter: Measurand }) {
  const { signal, decimals } = measurandFacts[parameter];
  const digits = parameter === "ph" ? 3 : decimals;
  return (
    <>
      {formatNumber(point.true_value, digits)}
      {point.uncertainty === null ? "" : ` ± ${formatNumber(point.uncertainty, digits)}`}
      <span className="quiet under">
        {point.signal === null
          ? `shown ${formatNumber(point.as_found ?? Number.NaN, decimals)}`
          : `${formatNumber(point.signal, signal.decimals)} ${signal.unit}`}{" "}
        · {formatNumber(point.temperature_c, 1)} °C
      </span>
    </>
  );
}
