import { Input } from "antd";
import { useState } from "react";
import { Form, Link } from "react-router";
import { counted } from "../../../core/quantity/format";
import { showResult } from "../../../core/quantity/showResult";
import { showTime } from "../../../core/time/words";
import { type ShownGroup, seenAs } from "../../server/review/folded";
import type { ReviewRow } from "../../server/review/review.server";
import { Formula } from "../../ui/Formula";
import { kindNote } from "../../ui/QualityFacts";
import { VerdictMark } from "../../ui/VerdictMark";

const titles = {
  held: "Held",
  void: "Taken out",
  qualified: "Qualified",
  sound: "Changed since it was signed",
} as const;

/** The one tick of what does not stand line by line. */
const ofFolded = "folded";

/** Results that ask for the same look: each with its number and what stands against it, one comment for those that are ticked. */
export function LookCard({
  group,
  zone,
  evidenceOf,
  answer,
  mayReview,
  busy,
}: {
  group: ShownGroup;
  zone: string;
  evidenceOf(id: string): string;
  answer: Record<string, string>;
  mayReview: boolean;
  busy: boolean;
}) {
  const { key, verdict, count, rows, folded } = group;
  const id = `comment-${rows[0]?.id}`;
  // What is alone is looked at by writing; of several, each is ticked by itself, so that none slips through.
  const each = [...rows.map((r) => r.id), ...(folded ? [ofFolded] : [])];
  const [ticked, setTicked] = useState<readonly string[]>(count === 1 ? each : []);
  const all = ticked.length === each.length;
  const tick = (one: string, yes: boolean) =>
    setTicked(yes ? [...ticked, one] : ticked.filter((t) => t !== one));
  return (
    <section className="sheet" aria-label={`${titles[verdict]}, ${rows[0]?.analyte}`}>
      <Form method="post" className="stack close" preventScrollReset>
        <input type="hidden" name="do" value="look" />
        <input type="hidden" name="of" value={key} />
        <div className="cluster apart">
          <h3 className="look-title">
            <VerdictMark verdict={verdict} /> {titles[verdict]}
            {count > 1 && `: ${counted(count, "result")} for the same reason`}
          </h3>
          {mayReview && count > 1 && (
            <button type="button" className="calm" onClick={() => setTicked(all ? [] : each)}>
              {all ? "Tick none" : "Tick all"}
            </button>
          )}
        </div>
        <div>
          {rows.map((row) => (
            <LookRow
              key={row.id}
              row={row}
              zone={zone}
              to={evidenceOf(row.id)}
              tick={
                mayReview && (
                  <input
                    type="checkbox"
                    name="seen"
                    value={seenAs([row])}
                    aria-label={`Looked at ${row.analyte}, ${row.sample}`}
                    checked={ticked.includes(row.id)}
                    onChange={(e) => tick(row.id, e.target.checked)}
                  />
                )
              }
            />
          ))}
          {folded && (
            <div className="look-row">
              <span>
                {mayReview && (
                  <input
                    type="checkbox"
                    name="seen"
                    value={folded.seen}
                    aria-label={`Looked at ${counted(folded.count, "other")}`}
                    checked={ticked.includes(ofFolded)}
                    onChange={(e) => tick(ofFolded, e.target.checked)}
                  />
                )}
              </span>
              <span className="m look-value">+ {folded.count}</span>
              <div>
                {counted(folded.count, "other")} for the same reason, {showTime(folded.from, zone)} to{" "}
                {showTime(folded.to, zone)}
                {folded.range && <span className="under">All of them: {folded.range}</span>}
              </div>
            </div>
          )}
        </div>
        {answer.seen && (
          <p className="wrong" role="alert">
            {answer.seen}
          </p>
        )}
        {mayReview && (
          <>
            <label htmlFor={id}>What you saw</label>
            <Input
              id={id}
              name="comment"
              size="large"
              maxLength={300}
              status={answer.comment ? "error" : ""}
              aria-invalid={answer.comment ? true : undefined}
            />
            {answer.comment && (
              <p className="wrong" role="alert">
                {answer.comment}
              </p>
            )}
            <div className="actions">
              <button type="submit" className="calm strong" disabled={busy}>
                Looked at
              </button>
            </div>
          </>
        )}
      </Form>
    </section>
  );
}

function LookRow({
  row,
  zone,
  to,
  tick,
}: {
  row: ReviewRow;
  zone: string;
  to: string;
  tick: React.ReactNode;
}) {
  return (
    <div className="look-row">
      <span>{tick}</span>
      <span className="m look-value">
        {showResult(row)} {row.unit !== "pH" && <small>{row.unit}</small>}
      </span>
      <div>
        <Link to={to} preventScrollReset>
          <Formula>{row.analyte}</Formula>, {row.site}
        </Link>{" "}
        <span className="quiet small">
          {row.kind === "sample" ? <span className="m">{row.sample}</span> : kindNote(row)},{" "}
          {showTime(row.measured_at, zone)}, {row.by}
        </span>
        {row.findings.length > 0 && (
          <ul>
            {row.findings.map((f, i) => (
              <li key={`${f.rule} ${i}`}>
                {f.sentence} <span className="quiet m small">{f.measured}</span>
              </li>
            ))}
          </ul>
        )}
      </div>
    </div>
  );
}
