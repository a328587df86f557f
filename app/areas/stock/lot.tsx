import { Input } from "antd";
import { data, Form, Link, useActionData, useLoaderData, useNavigation } from "react-router";
import { formatNumber } from "../../../core/quantity/format";
import { type Measurand, measurandFacts } from "../../../core/quantity/measurand";
import { lotCondition, lotKindFacts, portionsLeft } from "../../../core/stock/lot";
import { dateSchema } from "../../../core/time/date";
import { localDate } from "../../../core/time/local";
import { showDate, showTime } from "../../../core/time/words";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { textField } from "../../server/platform/forms.server";
import { confirmRejudging } from "../../server/results/rejudge.server";
import { startRejudging } from "../../server/results/rejudgeRunner.server";
import { rejudgingState } from "../../server/results/rejudgeState.server";
import { rulesInForce } from "../../server/rules/rules.server";
import {
  calibrationsUsingLot,
  changeLot,
  findLot,
  lotHistory,
  nominalValue,
  pouredPortions,
} from "../../server/stock/lots.server";
import { EvidencePanel, Rows } from "../../ui/EvidencePanel";
import { Rejudging } from "../../ui/Rejudging";

import { VerdictMark } from "../../ui/VerdictMark";
import { WideTable } from "../../ui/WideTable";
import type { Route } from "./+types/lot";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `Lot ${loaderData?.lot.code ?? ""} · Brintel` },
];

export async function loader({ params, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const stored = await findLot(db, params.lotId);
  if (!stored) throw new Response("No such lot", { status: 404 });
  const { zone } = (await rulesInForce(db)).rules;
  const today = localDate(nowIso(), zone);
  return {
    ...stored,
    zone,
    nominal: nominalValue(stored.lot),
    left: portionsLeft(stored.lot, await pouredPortions(db, stored.id)),
    rejudging: stored.lot.withdrawn ? await rejudgingState(db, { kind: "lot", subject_id: stored.id }) : null,
    condition: lotCondition(stored.lot, today),
    history: await lotHistory(db, stored.id),
    used: await calibrationsUsingLot(db, stored.id, 12),
  };
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const form = await request.formData();
  const actor = context.get(personContext);
  const now = nowIso();
  const today = localDate(now, (await rulesInForce(db)).rules.zone);
  if (form.get("do") === "open") {
    await changeLot(
      db,
      params.lotId,
      (lot) => ({ ...lot, opened_on: lot.opened_on ?? today }),
      actor,
      now,
      "opened",
    );
    return data({ message: "" });
  }
  if (form.get("do") === "rejudge") {
    const stored = await findLot(db, params.lotId);
    if (!stored?.lot.withdrawn)
      return data({ message: "Only a withdrawn lot re-judges readings." }, { status: 422 });
    const request = { kind: "lot" as const, subject_id: stored.id };
    startRejudging(await confirmRejudging(db, request, `lot ${stored.lot.code} was withdrawn`, actor, now));
    return data({ message: "" });
  }
  const reason = textField(form, "reason");
  if (!reason) return data({ message: "Say why it is withdrawn." }, { status: 422 });
  if (reason.length > 200) return data({ message: "Keep the reason under 201 characters." }, { status: 422 });
  const stored = await findLot(db, params.lotId);
  if (!stored) throw new Response("No such lot", { status: 404 });
  if (stored.lot.withdrawn)
    return data(
      { message: `It was withdrawn on ${showDate(stored.lot.withdrawn.on)} already.` },
      { status: 422 },
    );
  const typed = textField(form, "since");
  if (typed && !dateSchema.safeParse(typed).success)
    return data({ message: "Give the day since when it is bad as year-month-day." }, { status: 422 });
  if (typed > today) return data({ message: "It cannot be bad only from a day to come." }, { status: 422 });
  const since = typed || (stored.lot.opened_on ?? today);
  await changeLot(
    db,
    params.lotId,
    (lot) => ({ ...lot, withdrawn: lot.withdrawn ?? { on: today, since, reason } }),
    actor,
    now,
    reason,
  );
  return data({ message: "" });
}

export default function LotPage() {
  const { lot, version, zone, nominal, condition, history, used, left, rejudging } =
    useLoaderData<typeof loader>();
  const { unit, decimals } = lotKindFacts[lot.kind];
  const answer = useActionData<typeof action>();
  const busy = useNavigation().state !== "idle";
  const noon = (date: string) => showTime(`${date}T12:00:00Z`, zone, "day");
  return (
    <>
      <main>
        <h1>Lot {lot.code}</h1>
        <p className="sub">{lot.name}</p>
        <div className="pagehead" style={{ margin: "14px 0" }}>
          <VerdictMark
            verdict={
              condition.state === "good" ? "sound" : condition.state === "withdrawn" ? "void" : "qualified"
            }
            size={26}
          />
          <div style={{ flex: 1, fontSize: 18, fontWeight: 600 }}>{condition.sentence}</div>
        </div>
        <div className="sheet">
          <h2>Certificate</h2>
          <WideTable name="The certificate">
            <table className="figures m">
              <thead>
                <tr>
                  {lot.table.map((row) => (
                    <th key={row.temperature_c} className="r">
                      {row.temperature_c} °C
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                <tr>
                  {lot.table.map((row) => (
                    <td key={row.temperature_c} className="r">
                      {formatNumber(row.value, lot.kind === "ph-buffer" ? 3 : decimals)}
                    </td>
                  ))}
                </tr>
              </tbody>
            </table>
          </WideTable>
          <p className="quiet small" style={{ marginTop: 8 }}>
            ± {formatNumber(lot.uncertainty, lot.kind === "ph-buffer" ? 3 : Math.max(1, decimals))} {unit}.
            Between two temperatures a straight line is taken.
          </p>
        </div>
        <div className="actions">
          {!lot.opened_on && !lot.withdrawn && (
            <Form method="post">
              <button type="submit" name="do" value="open" className="act" disabled={busy}>
                Opened today
              </button>
            </Form>
          )}
        </div>
        {!lot.withdrawn && (
          <Form method="post" className="form">
            <div className="field">
              <label htmlFor="reason">Withdraw this lot</label>
              <Input id="reason" name="reason" size="large" placeholder="Why it must not be used any more" />
              {answer?.message && <div className="wrong">{answer.message}</div>}
            </div>
            <div className="field">
              <label htmlFor="since">Bad since</label>
              <Input id="since" name="since" type="date" size="large" defaultValue={lot.opened_on ?? ""} />
              <div className="hint">Readings whose calibration used it before that day stay as they are.</div>
            </div>
            <button
              type="submit"
              name="do"
              value="withdraw"
              className="calm strong"
              disabled={busy}
              style={{ justifySelf: "start" }}
            >
              Withdraw it
            </button>
          </Form>
        )}
        {rejudging && (
          <Rejudging
            state={rejudging}
            zone={zone}
            nothing="No reading rests on this lot: nothing has to change."
          />
        )}
        {used.length > 0 && (
          <section style={{ marginTop: 24 }}>
            <h2>Used in</h2>
            <table className="figures">
              <tbody>
                {used.map((c) => (
                  <tr key={c.id}>
                    <td>
                      <Link to={`/calibrations/${c.work_id}`}>
                        {c.meter}, {measurandFacts[c.measurand as Measurand].word},{" "}
                        {showTime(c.finished_at, zone, "both")}
                      </Link>
                    </td>
                    <td>
                      <VerdictMark verdict={c.verdict} word />
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </section>
        )}
      </main>
      <EvidencePanel title="The bottle">
        <Rows
          rows={[
            ["At 25 °C", `${formatNumber(nominal, lot.kind === "ph-buffer" ? 3 : decimals)} ${unit}`],
            ...(left === null ? [] : ([["Portions left", String(left)]] as [string, string][])),
            ["Received", noon(lot.received_on)],
            ["Opened", lot.opened_on ? noon(lot.opened_on) : "not yet"],
            ["Keeps, once opened", `${lot.shelf_life_open_days} days`],
            ["Expires", noon(lot.expires_on)],
            ["Good until", noon(condition.good_until)],
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
          Harmless in small amounts; keep the cap on, pour fresh, never pour back. The bottle's safety sheet
          decides.
        </p>
      </EvidencePanel>
    </>
  );
}
