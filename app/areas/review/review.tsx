import { Link, useLoaderData } from "react-router";
import { counted } from "../../../core/quantity/format";
import { localDate } from "../../../core/time/local";
import { showDate, showTime } from "../../../core/time/words";
import { addDays, dayBounds } from "../../../core/time/zone";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext } from "../../server/platform/contexts.server";
import { readDate } from "../../server/platform/forms.server";
import { daysShown, daysToReview, newestSignatures, oldestToReview } from "../../server/review/review.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { VerdictMark } from "../../ui/VerdictMark";
import type { Route } from "./+types/review";
import "./review.css";

export const meta: Route.MetaFunction = () => [{ title: "Review · Brintel" }];

export async function loader({ url, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const { zone } = (await rulesInForce(db)).rules;
  const today = localDate(nowIso(), zone);
  const last = readDate(url.searchParams.get("until")) ?? today;
  const oldest = await oldestToReview(db);
  const before = addDays(last, -daysShown);
  return {
    days: await daysToReview(db, last, dayBounds(zone)),
    signed: await newestSignatures(db),
    zone,
    last,
    today,
    /** The last day of the window before this one, where there is anything in it or before it. */
    before: oldest !== null && localDate(oldest, zone) <= before ? before : null,
    oldest: oldest && localDate(oldest, zone),
  };
}

const verdicts = ["held", "qualified", "void", "sound"] as const;

/** What nobody has signed yet, a shift a line; and what was signed lately. */
export default function Review() {
  const { days, signed, zone, last, today, before, oldest } = useLoaderData<typeof loader>();
  return (
    <main className="stack">
      <div>
        <h1>Review</h1>
        <p className="sub">
          A shift is signed when what is held, qualified, taken out or changed was looked at. After that a
          result changes by amendment only. <Link to="/journal">The journal</Link>
        </p>
      </div>
      {days.length === 0 && (
        <p className="note">
          {last === today
            ? "Everything of the last 31 days is signed."
            : `Nothing is left of the 31 days up to ${showDate(last)}.`}
        </p>
      )}
      {days.length > 0 && (
        <ul className="list" aria-label="Shifts to review">
          {days.map(({ day, count, changed }) => (
            <li key={day} className="shift-row">
              <Link to={`/review/${day}`} className="cluster apart">
                <b>{showDate(day, "weekday")}</b>
                <span className="day-counts">
                  {verdicts.map((verdict) =>
                    count[verdict] ? (
                      <span key={verdict}>
                        <VerdictMark verdict={verdict} /> <span className="m">{count[verdict]}</span>{" "}
                        {verdict === "void" ? "taken out" : verdict}
                      </span>
                    ) : null,
                  )}
                  {changed > 0 && <span className="quiet">{changed} changed since signed</span>}
                </span>
              </Link>
            </li>
          ))}
        </ul>
      )}
      {(before || last !== today) && (
        <p className="cluster">
          {last !== today && <Link to="/review">The newest days</Link>}
          {before && oldest && (
            <Link to={`/review?until=${before}`}>
              Days before that: the oldest is {showDate(oldest, "long")}
            </Link>
          )}
        </p>
      )}
      {signed.length > 0 && (
        <section className="stack close" aria-label="Signed lately">
          <h2>Signed lately</h2>
          <ul className="points">
            {signed.map((s) => (
              <li key={s.id}>
                <Link to={`/review/${s.day}`}>{showDate(s.day, "weekday")}</Link>:{" "}
                {counted(s.readings, "result")} by {s.by}, {showTime(s.at, zone, "both")}
                {s.comment && <>. “{s.comment}”</>}
              </li>
            ))}
          </ul>
        </section>
      )}
    </main>
  );
}
