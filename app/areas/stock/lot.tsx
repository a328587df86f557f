import { useSending } from "../../ui/useSending";
import "./stock.css";
import type { Knex } from "knex";
import { data, Form, Link, useActionData, useLoaderData } from "react-router";
import { unitOfKit } from "../../../core/methods/kitted";
import { counted, formatNumber, formatOwnDigits, formatSignificant } from "../../../core/quantity/format";
import { hazardNames, hazardWords } from "../../../core/stock/hazards";
import { amountLeft, isStandard, type Lot } from "../../../core/stock/lot";
import { standardFacts } from "../../../core/stock/standard";
import { wasteStreams, wasteWords } from "../../../core/stock/wasteStreams";
import { dateSchema } from "../../../core/time/date";
import { localDate } from "../../../core/time/local";
import { showDate, showTime } from "../../../core/time/words";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { reasonOf, textField } from "../../server/platform/forms.server";
import { confirmRejudging, rejudgingOf } from "../../server/results/rejudge.server";
import { startRejudging } from "../../server/results/rejudgeRunner.server";
import { type RejudgingState, rejudgingState } from "../../server/results/rejudgeState.server";
import { takeWithdrawalBack } from "../../server/results/takeBack.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { findMethod } from "../../server/runs/methods.server";
import { keptFor } from "../../server/solutions/kept.server";
import { familyOf } from "../../server/stock/descent.server";
import { forecasts, worksWithLot } from "../../server/stock/lotPage.server";
import { changeLot, findLot, lotHistory, lotOnShelf, type StoredLot } from "../../server/stock/lots.server";
import { preparationOf } from "../../server/stock/preparations.server";
import { nominalValue } from "../../server/stock/standards.server";
import { EvidencePanel, Rows } from "../../ui/EvidencePanel";
import { KeptCalculations } from "../../ui/KeptCalculations";
import { Pictograms } from "../../ui/Pictograms";
import { Rejudging } from "../../ui/Rejudging";
import { VerdictMark } from "../../ui/VerdictMark";
import type { Route } from "./+types/lot";
import { Brings, Certificate, Family } from "./LotFacts";
import { type Answer, Discard, KeepIt, OnItsLabel, TakeBack, Withdraw } from "./LotForms";
import { MadeHere } from "./MadeHere";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `Lot ${loaderData?.lot.code ?? ""} · Brintel` },
];

export async function loader({ params, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const { zone } = (await rulesInForce(db)).rules;
  const today = localDate(nowIso(), zone);
  const stored = await lotOnShelf(db, params.lotId, today);
  if (!stored) throw new Response("No such lot", { status: 404 });
  const { lot } = stored;
  const led = !isStandard(lot) && lot.kit ? await findMethod(db, lot.kit.method) : undefined;
  return {
    ...stored,
    zone,
    nominal: isStandard(lot) ? nominalValue(lot) : null,
    method: led
      ? {
          id: led.method.id,
          name: led.method.name,
          technique: led.method.measure.technique,
          unit: unitOfKit({ given_as: (!isStandard(lot) && lot.kit?.given_as) || "" }, led.method.result),
        }
      : null,
    rejudging: await rejudgingOfLot(db, stored),
    history: await lotHistory(db, stored.id),
    works: await worksWithLot(db, stored.id, 12),
    family: await familyOf(db, stored.id),
    kept: await keptFor(db, "lot", stored.id),
    preparation: stored.made_in ? await preparationOf(db, stored.made_in) : null,
    forecast: (await forecasts(db, [stored], today)).get(stored.id) ?? null,
  };
}

/** What becomes of what rests on a lot that was withdrawn, or of which something else is known now; null where there is nothing to say. */
async function rejudgingOfLot(db: Knex, { id, lot }: StoredLot): Promise<RejudgingState | null> {
  if (lot.withdrawn) return rejudgingState(db, { kind: "lot", subject_id: id });
  const bottle = { kind: "bottle" as const, subject_id: id };
  return (await rejudgingOf(db, bottle)) ? rejudgingState(db, bottle) : null;
}

const fine: Answer = { message: "", of: "" };
const refuse = (of: Answer["of"], message: string) => data({ message, of } as Answer, { status: 422 });

export async function action({ request, params, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const form = await request.formData();
  const actor = context.get(personContext);
  const now = nowIso();
  const today = localDate(now, (await rulesInForce(db)).rules.zone);
  const stored = await findLot(db, params.lotId);
  if (!stored) throw new Response("No such lot", { status: 404 });
  const { lot } = stored;
  const change = (how: (lot: Lot) => Lot, reason: string) =>
    changeLot(db, stored.id, how, actor, now, reason);
  switch (form.get("do")) {
    case "open":
      await change((l) => ({ ...l, opened_on: l.opened_on ?? today }), "opened");
      return data(fine);
    case "rejudge": {
      const asked = { kind: lot.withdrawn ? ("lot" as const) : ("bottle" as const), subject_id: stored.id };
      const followed = lot.withdrawn ? null : await rejudgingOf(db, asked);
      if (!lot.withdrawn && !followed) return refuse("withdraw", "Only a withdrawn lot re-judges readings.");
      const cause = followed?.cause ?? `lot ${lot.code} was withdrawn`;
      startRejudging(await confirmRejudging(db, asked, cause, actor, now));
      return data(fine);
    }
    case "label": {
      const place = textField(form, "place");
      if (place.length > 60) return refuse("label", "Keep it under 61 characters.");
      const hazards = hazardNames.filter((h) => form.getAll("hazard").includes(h));
      const said = [
        ...(place === lot.place ? [] : [place ? `stands ${place}` : "stands nowhere in particular"]),
        ...(hazards.join() === lot.hazards.join()
          ? []
          : [`hazards: ${hazards.map((h) => hazardWords[h].toLowerCase()).join(", ") || "none"}`]),
      ];
      if (said.length) await change((l) => ({ ...l, place, hazards }), said.join("; "));
      return data(fine);
    }
    case "keep":
      await change((l) => ({ ...l, discarded: null }), "not thrown away after all");
      return data(fine);
    case "take-back": {
      const said = reasonOf(form, "Say why it may be used after all.");
      if ("message" in said) return refuse("take-back", said.message);
      const { refused, rejudging } = await takeWithdrawalBack(db, stored.id, said.reason, actor, now);
      if (refused) return refuse("take-back", refused);
      if (rejudging) startRejudging(rejudging);
      return data(fine);
    }
    case "discard": {
      const stream = wasteStreams.find((s) => s === form.get("stream"));
      if (!stream) return refuse("discard", "Say into which container it goes.");
      const reason = textField(form, "reason");
      if (reason.length > 200) return refuse("discard", "Keep it under 201 characters.");
      const discarded = { on: today, stream, reason };
      await change((l) => ({ ...l, discarded: l.discarded ?? discarded }), reason || "emptied");
      return data(fine);
    }
    default: {
      const said = reasonOf(form, "Say why it is withdrawn.");
      if ("message" in said) return refuse("withdraw", said.message);
      const { reason } = said;
      if (lot.withdrawn)
        return refuse("withdraw", `It was withdrawn on ${showDate(lot.withdrawn.on)} already.`);
      const typed = textField(form, "since");
      if (typed && !dateSchema.safeParse(typed).success)
        return refuse("withdraw", "Give the day since when it is bad as year-month-day.");
      if (typed > today) return refuse("withdraw", "It cannot be bad only from a day to come.");
      const since = typed || (lot.opened_on ?? today);
      await change((l) => ({ ...l, withdrawn: l.withdrawn ?? { on: today, since, reason } }), reason);
      return data(fine);
    }
  }
}

export default function LotPage() {
  const { id, lot, version, zone, nominal, method, condition, history, works, family, ...more } =
    useLoaderData<typeof loader>();
  const { portions_left, used, forecast, rejudging, preparation, made_in } = more;
  const answer = useActionData<typeof action>();
  const busy = useSending();
  const facts = isStandard(lot) ? standardFacts[lot.kind] : null;
  const left = amountLeft(lot, used);
  return (
    <>
      <main className="stack">
        <div>
          <h1>Lot {lot.code}</h1>
          <p className="sub">{lot.name}</p>
        </div>
        <div className="pagehead">
          <VerdictMark
            verdict={
              lot.discarded || condition.state === "withdrawn"
                ? "void"
                : condition.state === "good"
                  ? "sound"
                  : "qualified"
            }
            size={26}
          />
          <div style={{ flex: 1, fontSize: 18, fontWeight: 600 }}>
            {lot.discarded
              ? `Thrown away on ${showDate(lot.discarded.on)}: ${wasteWords[lot.discarded.stream]}.`
              : condition.sentence}
          </div>
        </div>
        <Pictograms hazards={lot.hazards} />
        {isStandard(lot) ? (
          <Certificate lot={lot} own={made_in !== null} />
        ) : (
          <Brings lot={lot} method={method} />
        )}
        <div className="cluster">
          {!lot.opened_on && !lot.withdrawn && !lot.discarded && (
            <Form method="post">
              <button type="submit" name="do" value="open" className="act small" disabled={busy}>
                Opened today
              </button>
            </Form>
          )}
          <Link to={`/stock/labels?id=${id}`} className="calm strong">
            Its label
          </Link>
          <Link to={`/stock/${id}/correct`} className="calm strong">
            Correct it
          </Link>
          {!isStandard(lot) && lot.kind === "titrant" && !lot.withdrawn && !lot.discarded && (
            <Link to={`/stock/${id}/standardise`} className="calm strong">
              Standardise it
            </Link>
          )}
        </div>
        {preparation && made_in && <MadeHere preparation={preparation} work={made_in} />}
        <Family parents={family.parents} made={family.children} />
        {rejudging && (
          <Rejudging
            state={rejudging}
            zone={zone}
            nothing="No reading rests on this lot: nothing has to change."
          />
        )}
        {works.length > 0 && (
          <section className="stack close">
            <h2>Used in</h2>
            <table className="figures">
              <tbody>
                {works.map((w) => (
                  <tr key={w.id}>
                    <td>
                      <Link to={w.href}>
                        {w.title}, {showTime(w.at, zone, "both")}
                      </Link>
                    </td>
                    <td className="r m">
                      {w.amount === null
                        ? ""
                        : `${formatOwnDigits(Number(w.amount.toPrecision(3)))} ${lot.unit}`}
                    </td>
                    <td>{w.verdict && <VerdictMark verdict={w.verdict} word />}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </section>
        )}
        <KeptCalculations kept={more.kept} zone={zone} calculateFor={lot.code} />
        {lot.withdrawn ? (
          <>
            {answer?.of === "withdraw" && (
              <p className="wrong" role="alert">
                {answer.message}
              </p>
            )}
            <TakeBack answer={answer} busy={busy} />
          </>
        ) : (
          <Withdraw lot={lot} answer={answer} busy={busy} />
        )}
        <OnItsLabel lot={lot} version={version} answer={answer} busy={busy} />
        {lot.discarded ? <KeepIt busy={busy} /> : <Discard answer={answer} busy={busy} />}
      </main>
      <EvidencePanel title="The bottle">
        <Rows
          rows={[
            ...(nominal === null || !facts
              ? []
              : ([
                  [
                    "At 25 °C",
                    `${formatNumber(nominal, lot.kind === "ph-buffer" ? 3 : facts.decimals)} ${facts.unit}`,
                  ],
                ] as [string, string][])),
            ...(left === null
              ? []
              : ([["Left", `${formatSignificant(left, 3)} ${lot.unit}`]] as [string, string][])),
            ...(portions_left === null
              ? []
              : ([["Enough for", `${portions_left} uses`]] as [string, string][])),
            ...(forecast
              ? ([
                  ["Used in a week", `${formatSignificant(forecast.per_week, 2)} ${lot.unit}`],
                  ["Lasts at that rate until", showDate(forecast.lasts_until)],
                ] as [string, string][])
              : []),
            ...(lot.place ? ([["Stands", lot.place]] as [string, string][]) : []),
            ["Received", showDate(lot.received_on)],
            ["Opened", lot.opened_on ? showDate(lot.opened_on) : "not yet"],
            ...(lot.shelf_life_open_days === null
              ? []
              : ([["Keeps, once opened", counted(lot.shelf_life_open_days, "day")]] as [string, string][])),
            ["Expires", showDate(lot.expires_on)],
            ["Good until", showDate(condition.good_until)],
          ]}
        />
        <h3>What happened to it</h3>
        <ul className="findings">
          {history.map((h) => (
            <li key={h.version}>
              <div>
                {h.reason}
                <div className="limit">
                  {showTime(h.at, zone, "both")}, {h.by}, version {h.version}
                  {h.version === version ? " (in force)" : ""}
                </div>
              </div>
            </li>
          ))}
        </ul>
        <h3>Careful</h3>
        <p className="quiet small">
          {lot.hazards.length === 0
            ? "Keep the cap on, pour fresh, never pour back."
            : "Gloves and goggles; the pictograms on the bottle count, not only those here."}{" "}
          The bottle's safety sheet decides.
        </p>
      </EvidencePanel>
    </>
  );
}
