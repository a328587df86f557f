import { Link } from "react-router";
import { blankWords, kindWords, type ResultKind } from "../../core/bench/resultKinds";
import { formatNumber, formatSignificant } from "../../core/quantity/format";
import type { BatchEvidence, QualityEvidence } from "../../core/results/qualityEvidence";
import { showTime } from "../../core/time/words";
import { Rows } from "./EvidencePanel";
import { VerdictMark } from "./VerdictMark";

/** What a result is of, where it is no sample. Check value: nothing for a sample. */
export const kindNote = ({
  kind,
  subject_code,
}: {
  kind: ResultKind;
  subject_code: string | null;
}): string => (kind === "sample" ? "" : `${kindWords[kind]}${subject_code ? ` ${subject_code}` : ""}`);

/** The page of the chart that a control belongs to. */
export const controlChartHref = (of: {
  code: string;
  parameter: string;
  analyte: string;
  instrument_id: string;
}): string =>
  `/quality/chart?${new URLSearchParams({ code: of.code, parameter: of.parameter, analyte: of.analyte, by: of.instrument_id })}`;

/** Of a check: what it was held against. Of a sample: the checks of its batch. */
export function QualityFacts({
  reading,
  quality,
  batch,
  unit,
  decimals,
  zone,
}: {
  reading: { parameter: string; analyte: string; instrument_id: string | null };
  quality: QualityEvidence | undefined;
  batch: BatchEvidence | undefined;
  unit: string;
  decimals: number;
  zone: string;
}) {
  const n = (v: number) => `${formatNumber(v, decimals)} ${unit}`;
  if (quality) {
    const { kind, of, code, expected, chart, spike, settled } = quality;
    const { instrument_id, parameter, analyte } = reading;
    return (
      <>
        <h3>A check of its batch</h3>
        <Rows
          rows={[
            ["What it is", of ? blankWords[of] : kindWords[kind]],
            ...(code ? [["Bottle", code] as [string, string]] : []),
            ...(expected ? [["Holds", n(expected.value)] as [string, string]] : []),
            ...(chart
              ? [
                  [
                    "Limits",
                    `${n(chart.centre)}, sigma ${formatSignificant(chart.sigma, 2)}, version ${chart.version}`,
                  ] as [string, string],
                ]
              : []),
            ...(spike
              ? ([
                  ["Without the addition", spike.unspiked === null ? "no number" : n(spike.unspiked)],
                  [
                    "Added",
                    `${spike.spike_ml} mL of ${formatSignificant(spike.strength, 4)} ${unit} to ${spike.sample_ml} mL`,
                  ],
                  [
                    "Recovered",
                    spike.recovery_percent === null
                      ? "cannot be reckoned"
                      : `${formatNumber(spike.recovery_percent, 0)} %`,
                  ],
                ] as [string, string][])
              : []),
            ...(settled ? [["Seen to", `${settled.cause}, by ${settled.by}`] as [string, string]] : []),
          ]}
        />
        {kind === "control" && code && instrument_id && (
          <p>
            <Link to={controlChartHref({ code, parameter, analyte, instrument_id })}>Its chart</Link>
          </p>
        )}
      </>
    );
  }
  const known = batch?.checks.flatMap((c) =>
    [c.before, c.after].flatMap((check) => (check ? [{ ...check, kind: c.kind }] : [])),
  );
  if (!known?.length) return null;
  return (
    <>
      <h3>Checked around it</h3>
      <ul className="points">
        {known.map((c) => (
          <li key={c.reading_id}>
            <Link to={`/ledger?reading=${c.reading_id}`}>
              <VerdictMark verdict={c.verdict} size={14} /> {kindWords[c.kind]}{" "}
              <span className="m">{c.shown}</span>
            </Link>{" "}
            <span className="quiet small">{showTime(c.at, zone, "both")}</span>
          </li>
        ))}
      </ul>
    </>
  );
}
