import "../../ui/bench/bench.css";
import "./stock.css";
import { useState } from "react";
import { type ClientLoaderFunctionArgs, data, Link, useLoaderData } from "react-router";
import { type NewEvent, replay } from "../../../core/bench/event";
import { readValue } from "../../../core/quantity/entry";
import { formatNumber, formatSignificant, formatWithUncertainty } from "../../../core/quantity/format";
import {
  nextOfStandardisation,
  type StandardisationState,
  standardisationFolding,
  standardisedOf,
} from "../../../core/stock/standardisation";
import type { StandardisationEvent } from "../../../core/stock/standardisationEvents";
import { showTime } from "../../../core/time/words";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { startRejudging } from "../../server/results/rejudgeRunner.server";
import { takeOutByForm } from "../../server/results/takeOutAction.server";
import {
  followAgain,
  loadStandardisation,
  takeStandardisationOut,
} from "../../server/stock/standardisations.server";
import { useBench } from "../../ui/bench/useBench";
import { EvidencePanel, Rows } from "../../ui/EvidencePanel";
import { orLastShown, useRemember } from "../../ui/lastShown";
import { NumberEntry } from "../../ui/NumberEntry";
import { Rejudging } from "../../ui/Rejudging";
import { WithReason } from "../../ui/TakeOut";
import { TypedField } from "../../ui/TypedField";
import { VerdictMark } from "../../ui/VerdictMark";
import { Working } from "../../ui/Working";
import type { Route } from "./+types/standardisation";
import { BenchHead } from "./BenchHead";
import { Careful, PortionSteps } from "./Careful";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `Standardising ${loaderData?.work.title ?? ""} · Brintel` },
];

export const loader = ({ params, context }: Route.LoaderArgs) =>
  loadStandardisation(context.get(dbContext), params.workId, context.get(personContext));

/** Takes it out with a reason, or tries again what follows of that. */
export async function action({ request, params, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const person = context.get(personContext);
  const form = await request.formData();
  const now = nowIso();
  if (!form.has("reason")) {
    const again = await followAgain(db, params.workId, person, now);
    if (again) startRejudging(again);
    return data({ message: "" });
  }
  return takeOutByForm(form, (reason) => takeStandardisationOut(db, params.workId, reason, person, now));
}

export const clientLoader = ({ params, serverLoader }: ClientLoaderFunctionArgs) =>
  orLastShown(params.workId ?? "", () => serverLoader<typeof loader>());

type Add = (event: NewEvent<StandardisationEvent>) => void;

/** A titrant is held against a standard, portion after portion, until they agree. */
export default function StandardisationPage() {
  const loaded = useLoaderData<typeof loader>();
  useRemember(loaded.work.id, loaded);
  const { work, events, person, zone } = loaded;
  const bench = useBench(work.id, events, standardisationFolding, person.id);
  const state = bench.state ?? replay(events, standardisationFolding).state;
  if (!state) throw new Error("A standardisation without a beginning.");
  const { guide, titrant, standard, portion_ml } = state.started;
  const { unit } = guide;
  const found = standardisedOf(state);
  const strong = found && inDigits(found);
  return (
    <>
      <main className="stack">
        <BenchHead
          title={`Standardise ${titrant.code}`}
          sub={`${guide.titrant}, begun ${showTime(state.started_at, zone, "both")}`}
          bench={bench}
        />
        <InHand state={state} add={bench.add} />
        {state.taken_out && (
          <p className="note">
            {loaded.outBy}, {showTime(state.taken_out.at, zone, "both")}: {state.taken_out.reason}
          </p>
        )}
        {loaded.following && (
          <Rejudging state={loaded.following} zone={zone} nothing="Nothing was titrated with it since." />
        )}
        <Portions state={state} add={bench.add} />
        {state.status === "finished" && !state.taken_out && (
          <WithReason
            summary="This standardisation was made wrong"
            label="What was wrong with it"
            hint="It stays to be seen. The titrant has the strength that it had without it, and what was titrated since is judged anew. Then standardise again."
            action="Take it out"
          />
        )}
      </main>
      <EvidencePanel title="What it rests on">
        {found && strong && (
          <>
            <p className="evidence-claim">
              <span className="m big">{strong.value}</span>{" "}
              <span className="nowrap">
                ± {strong.uncertainty} {unit}
              </span>
            </p>
            <Working lines={found.working} />
          </>
        )}
        <Rows
          rows={[
            [
              "Standard",
              <Link key="s" to={`/stock/${standard.lot_id}`}>
                {standard.code}
              </Link>,
            ],
            [
              "Its strength",
              `${formatWithUncertainty(standard.strength.value, standard.strength.uncertainty)} ${unit}`,
            ],
            ["Portion", `${formatNumber(portion_ml, 2)} mL`],
            ...(titrant.strength
              ? ([["Before", `${formatSignificant(titrant.strength.value, 4)} ${unit}`]] as [
                  string,
                  string,
                ][])
              : []),
          ]}
        />
        <h3>How it is done</h3>
        <PortionSteps steps={guide.steps} />
        <Careful cautions={guide.cautions} source={guide.source} />
      </EvidencePanel>
    </>
  );
}

/** The number and its uncertainty apart, to the same place. */
function inDigits(found: { value: number; uncertainty: number }): { value: string; uncertainty: string } {
  const [value = "", uncertainty = "0"] = formatWithUncertainty(found.value, found.uncertainty).split(" ± ");
  return { value, uncertainty };
}

/** The one thing to be done now. */
function InHand({ state, add }: { state: StandardisationState; add: Add }) {
  const next = nextOfStandardisation(state);
  const { titrant, standard, guide, portion_ml } = state.started;
  const { unit } = guide;
  const found = standardisedOf(state);
  if (next?.is === "blank")
    return (
      <Titrate
        key="blank"
        what="blank"
        headline="Titrate the blank: pure water in place of the standard"
        hint="It says what the indicator alone takes."
        start=""
        add={add}
      />
    );
  if (next?.is === "portion")
    return (
      <Titrate
        key={next.number}
        what="portion"
        headline={`Portion ${next.number}: ${formatNumber(portion_ml, 2)} mL of ${standard.code}`}
        hint={next.because || "Pipette it, treat it as “How it is done” says, and titrate to its end."}
        start={state.portions.length ? formatNumber(state.portions.at(-1)?.end_ml ?? 0, 2) : ""}
        add={add}
      />
    );
  if (next?.is === "agree" && found)
    return (
      <section className="sheet stack" aria-label="The step in hand">
        <p className="headline">
          <span>
            The portions agree within {formatNumber(found.spread_percent, 2)} %:{" "}
            <span className="m big nowrap">
              {formatWithUncertainty(found.value, found.uncertainty)} {unit}
            </span>
          </span>
        </p>
        <Changed before={titrant.strength?.value ?? null} after={found.value} />
        <div className="cluster">
          <button type="button" className="act" autoFocus onClick={() => add({ type: "finished" })}>
            Keep this strength <kbd>enter</kbd>
          </button>
          <span className="quiet small">
            It holds for what is titrated from now on; before, the strength of then.
          </span>
        </div>
      </section>
    );
  return (
    <section className="sheet stack close">
      <p className="headline">
        {state.taken_out ? (
          <>
            <VerdictMark verdict="void" size={30} /> Taken out. What it found does not count.
          </>
        ) : state.status === "abandoned" || !found ? (
          "This was given up."
        ) : (
          <span>
            {titrant.code} is{" "}
            <span className="m nowrap">
              {formatWithUncertainty(found.value, found.uncertainty)} {unit}
            </span>
          </span>
        )}
      </p>
      <div className="cluster">
        <Link to={`/stock/${titrant.lot_id}`} className="act">
          Lot {titrant.code}
        </Link>
      </div>
    </section>
  );
}

/** Further from what it was than this is more than ageing, percent. */
const notable = 5;

function Changed({ before, after }: { before: number | null; after: number }) {
  const change = before === null ? 0 : (after / before - 1) * 100;
  if (Math.abs(change) < notable) return null;
  return (
    <p className="note" role="alert">
      That is {formatNumber(Math.abs(change), 1)} % {change > 0 ? "more" : "less"} than it was. Is it the
      right bottle, the right portion, the right standard?
    </p>
  );
}

/** The burette before and after one portion. */
function Titrate({
  what,
  headline,
  hint,
  start: from,
  add,
}: {
  what: "blank" | "portion";
  headline: string;
  hint: string;
  start: string;
  add: Add;
}) {
  const [start, setStart] = useState(from);
  const [end, setEnd] = useState("");
  const [wrong, setWrong] = useState<{ start?: string; end?: string }>({});
  const keep = () => {
    const [a, b] = [readValue(start, "mL"), readValue(end, "mL")];
    const problems: typeof wrong = {};
    if ("message" in a) problems.start = a.message;
    else if (a.value < 0) problems.start = "Not less than nothing.";
    if ("message" in b) problems.end = b.message;
    else if ("value" in a && b.value <= a.value) problems.end = "It reads more at the end than at the start.";
    setWrong(problems);
    if ("value" in a && "value" in b && Object.keys(problems).length === 0)
      add({ type: "titrated", what, start_ml: a.value, end_ml: b.value });
  };
  return (
    <section className="sheet stack" aria-label="The step in hand">
      <p className="headline">{headline}</p>
      <p className="quiet">{hint}</p>
      <form
        className="stack"
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          keep();
        }}
      >
        <div className="two">
          <NumberEntry
            name="start"
            label="Burette at the start"
            unit="mL"
            text={start}
            onText={setStart}
            wrong={wrong.start}
            autoFocus={from === ""}
          />
          <NumberEntry
            name="end"
            label="Burette at the end"
            unit="mL"
            text={end}
            onText={setEnd}
            wrong={wrong.end}
            autoFocus={from !== ""}
          />
        </div>
        <div className="cluster">
          <button type="submit" className="act">
            Keep it <kbd>enter</kbd>
          </button>
        </div>
      </form>
    </section>
  );
}

/** What was titrated so far, each with the strength it gives. */
function Portions({ state, add }: { state: StandardisationState; add: Add }) {
  const each = standardisedOf(state)?.each ?? [];
  const { unit } = state.started.guide;
  if (state.portions.length === 0 && !state.blank) return null;
  let counted = 0;
  return (
    <section className="stack close">
      <h2>Titrated</h2>
      <table className="figures">
        <thead>
          <tr>
            <th>Portion</th>
            <th className="r">Used, mL</th>
            <th className="r">Gives, {unit}</th>
            <th>
              <span className="hidden">Whether it counts</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {state.blank && (
            <tr>
              <td>Blank</td>
              <td className="r m">{formatNumber(state.blank.end_ml - state.blank.start_ml, 2)}</td>
              <td />
              <td />
            </tr>
          )}
          {state.portions.map((p, i) => {
            const gives = p.left_out ? undefined : each[counted++];
            return (
              <tr key={p.at}>
                <td>{i + 1}</td>
                <td className="r m">{formatNumber(p.end_ml - p.start_ml, 2)}</td>
                <td className="r m">{gives === undefined ? "" : formatSignificant(gives, 5)}</td>
                <td>
                  {p.left_out ? (
                    <span className="quiet small">left out: {p.left_out}</span>
                  ) : (
                    state.status === "open" && (
                      <LeaveOut
                        number={i + 1}
                        leave={(reason) => add({ type: "left-out", portion: i, reason })}
                      />
                    )
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}

/** A portion of which one knows what went wrong does not count, with the reason. */
function LeaveOut({ number, leave }: { number: number; leave(reason: string): void }) {
  const [reason, setReason] = useState("");
  const [wrong, setWrong] = useState("");
  return (
    <details className="take-out">
      <summary>Leave it out</summary>
      <form
        className="stack close"
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          if (reason.trim() === "") setWrong("Say what went wrong with it.");
          else leave(reason.trim());
        }}
      >
        <TypedField
          label={`What went wrong with portion ${number}`}
          value={reason}
          onChange={setReason}
          wrong={wrong}
          maxLength={200}
        />
        <div className="cluster">
          <button type="submit" className="calm strong">
            Leave it out
          </button>
        </div>
      </form>
    </details>
  );
}
