import { data, Link, redirect, useActionData, useLoaderData } from "react-router";
import { counted } from "../../../core/quantity/format";
import { showDate, showTime } from "../../../core/time/words";
import { dayBounds } from "../../../core/time/zone";
import { checkOwnPassword } from "../../server/people/signIn.server";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { readDate, textField } from "../../server/platform/forms.server";
import { may } from "../../server/platform/rights.server";
import { countOpen } from "../../server/quality/actions.server";
import { findReading, judgementsOf } from "../../server/results/readings.server";
import { bottlesBehind } from "../../server/results/restsOn.server";
import { fold, seenFrom } from "../../server/review/folded";
import {
  lookGroups,
  needsLook,
  type ReviewRow,
  shiftToReview,
  signaturesOfDay,
} from "../../server/review/review.server";
import { noteLooked, signShift } from "../../server/review/sign.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { AnyEvidencePanel } from "../../ui/AnyEvidencePanel";
import { useSending } from "../../ui/useSending";
import type { Route } from "./+types/shift";
import { LookCard } from "./LookCard";
import { SignCard } from "./SignCard";
import { SoundTable } from "./SoundTable";
import "./review.css";

export const meta: Route.MetaFunction = ({ params }) => [{ title: `Shift of ${params.day} · Brintel` }];

const dayOf = (text: string): string => {
  const day = readDate(text);
  if (!day) throw new Response("No such day", { status: 404 });
  return day;
};

export async function loader({ params, url, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const person = context.get(personContext);
  const day = dayOf(params.day);
  const { rules } = await rulesInForce(db);
  const bounds = dayBounds(rules.zone);
  const [from, to] = [bounds.start(day), bounds.end(day)];
  const rows = await shiftToReview(db, from, to);
  const chosen = url.searchParams.get("reading");
  const reading = chosen ? ((await findReading(db, chosen)) ?? null) : null;
  const own = rules.records.second_person === "other" ? rows.filter((r) => r.by_id === person.id).length : 0;
  return {
    day,
    zone: rules.zone,
    count: rows.length,
    own,
    people: [...new Set(rows.map((r) => r.by))],
    groups: lookGroups(rows).map(fold),
    looked: atAGlance(rows.filter((r) => needsLook(r) && r.looked)),
    sound: atAGlance(rows.filter((r) => !needsLook(r))),
    out: await countOpen(db, [from, to]),
    signed: await signaturesOfDay(db, day),
    mayReview: may(person, "review"),
    reading,
    judgements: reading ? await judgementsOf(db, reading.id) : [],
    behind: reading ? await bottlesBehind(db, [reading]) : {},
  };
}

interface Answer {
  of: string;
  errors: Record<string, string>;
}

/** So many results stand in a table for a glance; all of a day stand in the ledger. */
const mostAtAGlance = 100;
const atAGlance = (rows: readonly ReviewRow[]) => ({
  rows: rows.slice(0, mostAtAGlance),
  others: Math.max(0, rows.length - mostAtAGlance),
});

export async function action({ params, request, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const person = context.get(personContext);
  const day = dayOf(params.day);
  const form = await request.formData();
  const now = nowIso();
  const of = textField(form, "of");
  const refuse = (errors: Record<string, string>) => data<Answer>({ of, errors }, { status: 422 });
  const comment = textField(form, "comment");
  if (comment.length > 300) return refuse({ comment: "Keep it under 301 characters." });
  if (form.get("do") === "look") {
    const seen = seenFrom(form.getAll("seen"));
    if (seen.length === 0) return refuse({ seen: "Tick what you looked at." });
    if (comment.length < 3) return refuse({ comment: "Say what you saw: whoever asks later reads it." });
    const noted = await noteLooked(db, seen, comment, person, now);
    if (noted < seen.length)
      return refuse({ seen: "Some of these were judged anew meanwhile. Look at them once more." });
    return redirect(`/review/${day}`);
  }
  const wrong = await checkOwnPassword(db, person.id, String(form.get("password") ?? "").slice(0, 400), now);
  if (wrong) return refuse({ password: wrong });
  const bounds = dayBounds((await rulesInForce(db)).rules.zone);
  const signed = await signShift(
    db,
    { day, from: bounds.start(day), to: bounds.end(day) },
    comment,
    person,
    now,
  );
  return "refused" in signed ? refuse({ sign: signed.refused }) : redirect(`/review/${day}`);
}

export default function ShiftPage() {
  const shift = useLoaderData<typeof loader>();
  const { day, zone, count, own, people, groups, looked, sound, out, signed, mayReview, reading } = shift;
  const answer = useActionData<typeof action>();
  const busy = useSending();
  const evidenceOf = (id: string) => `/review/${day}?reading=${encodeURIComponent(id)}`;
  const left = groups.reduce((sum, g) => sum + g.count, 0);
  return (
    <>
      <main className="stack">
        <div>
          <h1>Shift of {showDate(day, "weekday")}</h1>
          <p className="sub">
            {count > 0
              ? `${counted(count, "result")} to sign, measured by ${people.join(" and ")}. `
              : "Nothing is left to sign. "}
            <Link to="/review">All shifts</Link> ·{" "}
            <Link to={`/review/${day}/report`}>The report of this shift</Link>
          </p>
        </div>
        {out > 0 && (
          <p className="note">
            {counted(out, "check")} of this shift {out === 1 ? "was" : "were"} out and nobody has noted why:{" "}
            <Link to="/quality">see to it under Checks</Link>; the results it holds are judged anew then.
          </p>
        )}
        {left > 0 && (
          <section className="stack" aria-label="To be looked at">
            <h2>To be looked at</h2>
            {groups.map((group) => (
              <LookCard
                key={`${group.key} ${group.count}`}
                group={group}
                zone={zone}
                evidenceOf={evidenceOf}
                answer={answer?.of === group.key ? answer.errors : {}}
                mayReview={mayReview}
                busy={busy}
              />
            ))}
          </section>
        )}
        {looked.rows.length > 0 && (
          <section className="sheet stack close" aria-label="Looked at">
            <h2>Looked at</h2>
            <SoundTable rows={looked.rows} zone={zone} evidenceOf={evidenceOf} comments />
            <Others n={looked.others} day={day} />
          </section>
        )}
        {sound.rows.length > 0 && (
          <section className="sheet stack close" aria-label="Sound">
            <h2>Sound</h2>
            <SoundTable rows={sound.rows} zone={zone} evidenceOf={evidenceOf} />
            <Others n={sound.others} day={day} />
          </section>
        )}
        {count > 0 && (
          <SignCard
            key={count}
            count={count - own}
            own={own}
            left={left}
            errors={answer?.of === "sign" ? answer.errors : {}}
            mayReview={mayReview}
            busy={busy}
          />
        )}
        {signed.map((s) => (
          <section key={s.id} className="sheet" aria-label="Signature">
            <div className="signed-block stack close">
              <p>
                <b>
                  {counted(s.readings, "result")} signed by {s.by}
                </b>
                , {showTime(s.at, zone, "both")}
              </p>
              {s.comment && <p>“{s.comment}”</p>}
              <p>
                <Link to={`/ledger?from=${day}&to=${day}`}>What was measured that day, in the ledger</Link>
              </p>
              <p className="quiet hash">
                Sealed as <span className="m">{s.hash}</span>
              </p>
            </div>
          </section>
        ))}
      </main>
      {reading && (
        <AnyEvidencePanel
          reading={reading}
          judgements={shift.judgements}
          behind={shift.behind}
          zone={zone}
          back={`/review/${day}`}
        />
      )}
    </>
  );
}

/** Where the rest of a long table stands. */
function Others({ n, day }: { n: number; day: string }) {
  if (n === 0) return null;
  return (
    <p className="quiet">
      And {counted(n, "other")}: <Link to={`/ledger?from=${day}&to=${day}`}>the day in the ledger</Link> has
      all of them.
    </p>
  );
}
