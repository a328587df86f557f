import { Link } from "react-router";
import { type Finding, worstFirst } from "../../core/judgement/finding";
import { showTime } from "../../core/time/words";
import type { Judgement } from "../server/results/readings.server";
import { severityVerdict, VerdictMark } from "./VerdictMark";

/** Name and value pairs, one a line. */
export function Rows({ rows }: { rows: [label: React.ReactNode, value: React.ReactNode][] }) {
  return (
    <dl className="rows">
      {rows.map(([label, value], i) => (
        <div key={i}>
          <dt>{label}</dt>
          <dd className="m">{value}</dd>
        </div>
      ))}
    </dl>
  );
}

/** Every finding with what was measured, its limit and the next action, worst first. */
export function Findings({ findings }: { findings: readonly Finding[] }) {
  return (
    <ul className="findings">
      {worstFirst(findings).map((f, i) => (
        <li key={`${f.rule}-${i}`}>
          <VerdictMark verdict={severityVerdict[f.severity]} />
          <div>
            <div>{f.sentence}</div>
            <div className="limit">
              <span className="m">{f.measured}</span>
              {f.limit !== "–" && <> · limit {f.limit}</>}
            </div>
            {f.action && <div className="next">{f.action}</div>}
          </div>
        </li>
      ))}
    </ul>
  );
}

/** What stands against a result, worst first, with what to do about it. */
export function Objections({ findings }: { findings: readonly Finding[] }) {
  return worstFirst(findings)
    .filter((f) => f.severity !== "ok")
    .map((f, i) => (
      <div className="diagnosis" key={`${f.rule}-${i}`}>
        <p>
          <b>{f.sentence}</b>
        </p>
        <p className="quiet small">
          <span className="m">{f.measured}</span> · limit <span className="m">{f.limit}</span>
        </p>
        <p className="next">{f.action}</p>
      </div>
    ));
}

/** The right-hand panel: what the selected thing rests on. */
export function EvidencePanel({
  title,
  children,
  back,
}: {
  title: string;
  children: React.ReactNode;
  back?: string;
}) {
  return (
    <aside className="evidence" aria-label={title}>
      <div className="evidence-head">
        <h2>{title}</h2>
        {back && (
          <Link to={back} preventScrollReset className="calm" aria-label="Close the evidence">
            close
          </Link>
        )}
      </div>
      {children}
    </aside>
  );
}

/** The way to everything that was done with a result: judged, looked at, amended, signed. */
const RecordLink = ({ id }: { id: string }) => (
  <p>
    <Link to={`/records/${id}`}>Its record: reviewed, signed, amended</Link>
  </p>
);

/** Every judgement a result had, with its cause. */
export function Judged({
  judgements,
  rules_version,
  zone,
  under,
}: {
  judgements: readonly Judgement[];
  rules_version: number;
  zone: string;
  /** What stands below a judgement, where its value says something. */
  under?(value: number): React.ReactNode;
}) {
  return (
    <>
      <h3>Judged</h3>
      <Rows
        rows={judgements.map((j) => [
          <>
            {showTime(j.at, zone, "both")}, {j.cause}
            {j.value !== null && judgements.length > 1 && under && (
              <span className="quiet under m">{under(j.value)}</span>
            )}
          </>,
          <VerdictMark key={j.seq} verdict={j.verdict} word />,
        ])}
      />
      <p className="quiet small">House rules version {rules_version}.</p>
      {judgements[0] && <RecordLink id={judgements[0].reading_id} />}
    </>
  );
}
