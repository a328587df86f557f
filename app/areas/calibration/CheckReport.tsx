import { showTime } from "../../../core/time/words";
import "../../ui/bench/bench.css";
import { Link } from "react-router";
import { checkVerdict } from "../../../core/calibration/check";
import type { CalibrationState } from "../../../core/calibration/session";
import { worstVerdict } from "../../../core/judgement/finding";
import { formatNumber, formatSigned } from "../../../core/quantity/format";
import { formatMeasured, measurandFacts } from "../../../core/quantity/measurand";
import type { LoadedCalibration } from "../../server/calibrations/calibrationPage.server";
import type { Check } from "../../server/calibrations/checks.server";
import { EvidencePanel, Rows } from "../../ui/EvidencePanel";
import { Rejudging } from "../../ui/Rejudging";

import { VerdictMark } from "../../ui/VerdictMark";
import { NothingJudged, TakenOutFor } from "./CalibrationReport";

const momentWords = { opening: "Opening check", interim: "Control", closing: "Closing check" };

/** What a check found, and what it means for every reading since the meter was last known to be right. */
export function CheckReport({ loaded, state }: { loaded: LoadedCalibration; state: CalibrationState }) {
  const { meter, rules, checks } = loaded;
  const first = checks[0];
  if (!first) return <NothingJudged meter={meter} state={state} />;
  const failed = checks.filter((c) => !c.passed);
  const counted = failed.filter((c) => c.counts);
  const worth = worstVerdict(checks.map(checkVerdict));
  const out = checks.find((c) => c.outcome.taken_out)?.outcome.taken_out;
  const doubted = checks.filter((c) => !c.counts);
  const wordsOf = (some: readonly Check[]) => some.map((c) => measurandFacts[c.measurand].word).join(", ");
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
          <VerdictMark verdict={worth} size={30} />
          {out
            ? "Taken out. It says nothing of any reading."
            : counted.length
              ? `Off for ${wordsOf(counted)}. Calibrate before the next reading.`
              : doubted.length
                ? `${failed.length ? "Off" : "Passed"}, against a standard that is not trusted. Check again.`
                : "Passed. The readings before it may stand."}
        </div>
        <section className="sheet">
          <div className="resultline">
            {checks.map((c) => (
              <CheckFigure key={c.id} check={c} />
            ))}
          </div>
        </section>
        {out && (
          <p className="note">
            {out.by}, {showTime(out.at, rules.zone, "both")}: {out.reason}
          </p>
        )}
        {doubted.length > 0 && !out && (
          <p className="note">
            A standard of this check is not trusted any more: for {wordsOf(doubted)} it says nothing of the
            readings before it, and corrects none. Check {meter.code} with another bottle.
          </p>
        )}
        {loaded.rejudging && (
          <Rejudging
            state={loaded.rejudging}
            zone={rules.zone}
            nothing="No reading was taken since it was last known to be right: nothing has to change."
          />
        )}
        <div className="actions">
          {out ? (
            <Link to={`/meters/${meter.id}/check`} className="act">
              Check {meter.code} again
            </Link>
          ) : failed.length > 0 ? (
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
        {!out && (
          <TakenOutFor
            what="check"
            hint="It stays to be seen and says nothing any more: what it held, corrected or ended is judged anew without it."
          />
        )}
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
