import "../../shared/bench/bench.css";
import { useEffect } from "react";
import { Form, Link, useNavigation, useRevalidator } from "react-router";
import type { CalibrationState } from "../../../core/calibration/session";
import { counted, formatNumber, formatSigned } from "../../../core/quantity/format";
import { formatMeasured, measurandFacts } from "../../../core/quantity/measurand";
import type { LoadedCalibration } from "../../server/calibrationPage.server";
import type { Check } from "../../server/checks.server";
import { EvidencePanel, Rows } from "../../shared/EvidencePanel";
import { RejudgingPreviewTable } from "../../shared/RejudgingPreview";
import { showTime } from "../../shared/time";
import { VerdictMark } from "../../shared/VerdictMark";
import { NothingJudged } from "./CalibrationReport";

const momentWords = { opening: "Opening check", interim: "Control", closing: "Closing check" };

/** What a check found, and what it means for every reading since the meter was last known to be right. */
export function CheckReport({ loaded, state }: { loaded: LoadedCalibration; state: CalibrationState }) {
  const { meter, rules, checks } = loaded;
  const first = checks[0];
  if (!first) return <NothingJudged meter={meter} state={state} />;
  const failed = checks.filter((c) => !c.passed);
  const words = failed.map((c) => measurandFacts[c.measurand].word).join(", ");
  return (
    <>
      <main>
        <h1>
          {momentWords[first.moment]} of {meter.code}
        </h1>
        <p className="sub">
          {showTime(first.at, rules.zone, "both")} · by {first.by}
        </p>
        <div className="headline" role="status">
          <VerdictMark verdict={failed.length ? "failed" : "sound"} size={30} />
          {failed.length
            ? `Off for ${words}. Calibrate before the next reading.`
            : "Passed. The readings before it may stand."}
        </div>
        <section className="sheet">
          <div className="resultline">
            {checks.map((c) => (
              <CheckFigure key={c.id} check={c} />
            ))}
          </div>
        </section>
        {failed.length > 0 && <Rejudge loaded={loaded} />}
        <div className="actions">
          {failed.length > 0 ? (
            <Link
              to={`/meters/${meter.id}/calibrate?of=${failed.map((c) => c.measurand).join(",")}`}
              className={loaded.rejudging?.preview?.changed ? "calm strong" : "act"}
            >
              Calibrate {meter.code}
            </Link>
          ) : (
            <Link to={first.moment === "closing" ? "/ledger" : `/meters/${meter.id}/read`} className="act">
              {first.moment === "closing" ? "Look over the day" : "Take a reading"}
            </Link>
          )}
          <Link to="/" className="calm">
            The day
          </Link>
        </div>
      </main>
      <EvidencePanel title="What this check rests on">
        {checks.map((c) => (
          <div key={c.id}>
            <h3>{measurandFacts[c.measurand].name}</h3>
            <Rows
              rows={[
                ["True", formatMeasured(c.outcome.true_value, c.measurand)],
                ["Read", formatMeasured(c.outcome.read_value, c.measurand)],
                [
                  "Limit",
                  `± ${formatNumber(c.outcome.limit, measurandFacts[c.measurand].decimals)} ${measurandFacts[c.measurand].unit}`,
                ],
                ["Last known right", showTime(c.last_good_at, rules.zone, "both")],
                ...(c.outcome.drift && !c.passed
                  ? ([
                      [
                        "Records are corrected beyond",
                        `${formatNumber(c.outcome.drift.limit, 2)} ${measurandFacts[c.measurand].unit}`,
                      ],
                      ["Grade of the record", c.outcome.drift.grade],
                    ] as [string, string][])
                  : []),
              ]}
            />
          </div>
        ))}
        <p className="quiet small">
          Drift, limits and grades after Wagner et al. 2006: the correction grows evenly from the last good
          point to the check. House rules version {loaded.version}.
        </p>
      </EvidencePanel>
    </>
  );
}

function CheckFigure({ check }: { check: Check }) {
  const { measurand, outcome } = check;
  const facts = measurandFacts[measurand];
  const digits = facts.decimals + (measurand === "ph" || measurand === "conductivity" ? 1 : 0);
  return (
    <div className="figure">
      <b>
        {formatSigned(outcome.error, digits)} <small>{facts.unit}</small>
      </b>
      <span>
        <VerdictMark verdict={check.passed ? "sound" : "failed"} size={14} /> {facts.name}, read − true
      </span>
    </div>
  );
}

/** What would change, before anybody confirms it; how far it is; or what was done. */
function Rejudge({ loaded }: { loaded: LoadedCalibration }) {
  const busy = useNavigation().state !== "idle";
  const { revalidate } = useRevalidator();
  const { rejudging, rules } = loaded;
  const running = rejudging?.job?.status === "confirmed";
  useEffect(() => {
    if (!running) return;
    const timer = setInterval(() => void revalidate(), 250);
    return () => {
      clearInterval(timer);
      // Once more when it is done: the day rail may have looked a moment too early.
      void revalidate();
    };
  }, [running, revalidate]);
  if (!rejudging) return null;
  const { job, preview, progress } = rejudging;
  if (job?.status === "confirmed") {
    return (
      <section className="sheet" aria-live="polite">
        <h2>Re-judging the readings …</h2>
        <progress max={1} value={progress ?? 0} aria-label="How much is re-judged" />
        <p className="quiet">You may go on working; nothing is half done.</p>
      </section>
    );
  }
  if (job) {
    return (
      <section className="sheet">
        <h2>
          {job.changed} of {counted(job.readings ?? 0, "reading")} re-judged
        </h2>
        <p className="quiet">
          {showTime(job.finished_at ?? job.requested_at, rules.zone, "both")}. Each keeps what it was before
          in its history. <Link to="/ledger">See them in the ledger</Link>.
        </p>
      </section>
    );
  }
  if (!preview || preview.readings === 0) {
    return (
      <p className="note">No reading was taken since it was last known to be right: nothing has to change.</p>
    );
  }
  return (
    <section className="sheet" aria-label="Readings since it was last right">
      <h2>
        {preview.changed} of {counted(preview.readings, "reading")} since then would change
      </h2>
      <RejudgingPreviewTable preview={preview} zone={rules.zone} />
      <Form method="post">
        <button type="submit" name="do" value="rejudge" className="act" disabled={busy} autoFocus>
          Re-judge {counted(preview.readings, "reading")} <kbd>enter</kbd>
        </button>
      </Form>
    </section>
  );
}
