import "../../ui/bench/bench.css";
import "./stock.css";
import { useState } from "react";
import { type ClientLoaderFunctionArgs, Link, useLoaderData } from "react-router";
import { type NewEvent, replay } from "../../../core/bench/event";
import { readValue } from "../../../core/quantity/entry";
import { formatSignificant } from "../../../core/quantity/format";
import { nextOf, type PreparationState, preparationFolding, wanted } from "../../../core/stock/preparation";
import type { Ingredient, PreparationEvent } from "../../../core/stock/preparationEvents";
import { preparedOf } from "../../../core/stock/prepared";
import { localDate } from "../../../core/time/local";
import { showTime } from "../../../core/time/words";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { loadPreparation } from "../../server/stock/preparations.server";
import { useBench } from "../../ui/bench/useBench";
import { EvidencePanel, Rows } from "../../ui/EvidencePanel";
import { Formula } from "../../ui/Formula";
import { orLastShown, useRemember } from "../../ui/lastShown";
import { NumberEntry } from "../../ui/NumberEntry";
import { Pictograms } from "../../ui/Pictograms";
import { TypedField } from "../../ui/TypedField";
import { Working } from "../../ui/Working";
import type { Route } from "./+types/preparation";
import { BenchHead } from "./BenchHead";
import { Careful } from "./Careful";
import { StepInHand } from "./StepInHand";

export const meta: Route.MetaFunction = () => [{ title: "Preparation · Brintel" }];

export const loader = async ({ params, context }: Route.LoaderArgs) => ({
  ...(await loadPreparation(context.get(dbContext), params.workId, context.get(personContext))),
  now: Date.parse(nowIso()),
});

export const clientLoader = ({ params, serverLoader }: ClientLoaderFunctionArgs) =>
  orLastShown(params.workId ?? "", () => serverLoader<typeof loader>());

type Add = (event: NewEvent<PreparationEvent>) => void;

/** A solution is made: weighed or measured, step by step, and labelled at the end. */
export default function PreparationPage() {
  const loaded = useLoaderData<typeof loader>();
  useRemember(loaded.work.id, loaded);
  const { work, events, person, zone, made, now } = loaded;
  const bench = useBench(work.id, events, preparationFolding, person.id);
  const state = bench.state ?? replay(events, preparationFolding).state;
  if (!state) throw new Error("A preparation without a beginning.");
  const { recipe } = state;
  return (
    <>
      <main className="stack">
        <BenchHead
          title={recipe.name}
          sub={`${formatSignificant(state.volume_ml, 4)} mL, begun ${showTime(state.started_at, zone, "both")}`}
          bench={bench}
        />
        <InHand state={state} add={bench.add} made={made} zone={zone} now={now} />
      </main>
      <EvidencePanel title="What goes in">
        <Pictograms hazards={recipe.hazards} />
        <Rows rows={recipe.ingredients.map((i) => ingredientRow(state, i))} />
        <WhatItIs state={state} />
        <Careful cautions={recipe.cautions} source={recipe.source} />
      </EvidencePanel>
    </>
  );
}

function ingredientRow(state: PreparationState, i: Ingredient): [React.ReactNode, React.ReactNode] {
  const parent = state.parents.find((p) => p.ingredient === i.key);
  const target = wanted(state, i);
  const taken = state.taken[i.key];
  return [
    <>
      {i.name} {i.formula && <Formula>{i.formula}</Formula>}
    </>,
    <>
      {taken
        ? `${formatSignificant(taken.amount, 5)} ${target.unit}`
        : `wanted ${formatSignificant(target.amount, 4)} ${target.unit}`}
      <span className="quiet under">
        {parent?.lot_id ? <Link to={`/stock/${parent.lot_id}`}>{parent.code}</Link> : parent?.code}
        {parent && parent.purity_percent < 100 ? `, ${parent.purity_percent} %` : ""}
      </span>
    </>,
  ];
}

/** The strength as far as it is known, with how it is reckoned. */
function WhatItIs({ state }: { state: PreparationState }) {
  const prepared = preparedOf(state);
  if (prepared.value === null) return null;
  return (
    <>
      <h3>What it is</h3>
      <p className="evidence-claim">
        <span className="m big">{formatSignificant(prepared.value, 4)}</span> {prepared.unit}{" "}
        {prepared.unit === "mg/L" && <Formula>{prepared.of}</Formula>}
        {prepared.unit === "µS/cm" && "at 25 °C"}
      </p>
      <Working lines={prepared.working} />
    </>
  );
}

/** The one thing to be done now. */
function InHand({
  state,
  add,
  made,
  zone,
  now,
}: {
  state: PreparationState;
  now: number;
  add: Add;
  made: { id: string; code: string } | null;
  zone: string;
}) {
  const next = nextOf(state);
  const left = state.recipe.steps.filter((s) => !Object.hasOwn(state.done, s.id)).length;
  if (next?.is === "ingredient")
    return <TakeCard key={next.ingredient.key} state={state} ingredient={next.ingredient} add={add} />;
  if (next?.is === "step") {
    return (
      <StepInHand
        key={next.step.id}
        state={state}
        step={next.step}
        left={left}
        now={now}
        onDone={() => add({ type: "done", step: next.step.id })}
      />
    );
  }
  if (next?.is === "label") return <LabelCard add={add} proposed={codeFor(state, zone)} />;
  return (
    <section className="sheet stack close">
      <p className="headline">
        {state.status === "abandoned"
          ? "This was given up."
          : `It is made, and stands there as ${state.label?.code}.`}
      </p>
      <div className="cluster">
        {made && (
          <>
            <Link to={`/stock/labels?id=${made.id}`} className="act">
              Its label
            </Link>
            <Link to={`/stock/${made.id}`} className="calm strong">
              Lot {made.code}
            </Link>
          </>
        )}
        <Link to="/stock/prepare" className="calm">
          Prepare another
        </Link>
      </div>
    </section>
  );
}

/** A code that says what it is and when it was made. Check value: `NACL-STOCK-1126`, made on 26 November. */
const codeFor = ({ recipe, started_at }: PreparationState, zone: string): string =>
  `${recipe.id.toUpperCase().slice(0, 14)}-${localDate(started_at, zone).slice(5).replace("-", "")}`;

/** So exact a balance reads, g, and a pipette is, mL, where nobody says otherwise. */
const usual = { g: "0.001", mL: "0.02" } as const;

/** How much of an ingredient was weighed or measured. */
function TakeCard({ state, ingredient, add }: { state: PreparationState; ingredient: Ingredient; add: Add }) {
  const target = wanted(state, ingredient);
  const [amount, setAmount] = useState("");
  const [within, setWithin] = useState<string>(usual[target.unit]);
  const [wrong, setWrong] = useState<{ amount?: string; within?: string }>({});
  const keep = () => {
    const [read, off] = [readValue(amount, target.unit), readValue(within, target.unit)];
    const problems = {
      ...("value" in read && read.value > 0
        ? {}
        : { amount: "message" in read ? read.message : "More than nothing." }),
      ...("value" in off && off.value >= 0
        ? {}
        : { within: "message" in off ? off.message : "Not less than nothing." }),
    };
    setWrong(problems);
    if ("value" in read && "value" in off && Object.keys(problems).length === 0)
      add({ type: "taken", ingredient: ingredient.key, amount: read.value, within: off.value });
  };
  return (
    <section className="sheet stack" aria-label="The step in hand">
      <p className="headline">
        {target.unit === "g" ? "Weigh" : "Measure"}{" "}
        <span className="m big">
          {formatSignificant(target.amount, 4)} {target.unit}
        </span>{" "}
        of {ingredient.name.toLowerCase()}
      </p>
      <p className="quiet">
        It need not be exactly that: what you write down counts, and the strength is reckoned from it.
      </p>
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
            name="amount"
            label={target.unit === "g" ? "Weighed" : "Measured"}
            unit={target.unit}
            text={amount}
            onText={setAmount}
            wrong={wrong.amount}
            autoFocus
          />
          <NumberEntry
            name="within"
            label={target.unit === "g" ? "The balance reads to" : "The pipette is within"}
            unit={target.unit}
            text={within}
            onText={setWithin}
            wrong={wrong.within}
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

/** What stands on the bottle. */
function LabelCard({ add, proposed }: { add: Add; proposed: string }) {
  const [code, setCode] = useState(proposed);
  const [place, setPlace] = useState("");
  const [wrong, setWrong] = useState("");
  return (
    <section className="sheet stack" aria-label="The step in hand">
      <p className="headline">
        Label the bottle: what it is, its code, when it was made and until when it keeps.
      </p>
      <form
        className="stack"
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          const trimmed = code.trim();
          if (trimmed === "") return setWrong("Give it a code you can find on the bottle.");
          if (trimmed.length > 24) return setWrong("Keep the code under 25 characters.");
          add({ type: "finished", code: trimmed, place: place.trim() });
        }}
      >
        <div className="two">
          <TypedField
            label="Code on the bottle"
            value={code}
            onChange={setCode}
            wrong={wrong}
            mono
            autoFocus
          />
          <TypedField label="Where it stands" value={place} onChange={setPlace} maxLength={60} />
        </div>
        <div className="cluster">
          <button type="submit" className="act">
            It is labelled <kbd>enter</kbd>
          </button>
        </div>
      </form>
    </section>
  );
}
