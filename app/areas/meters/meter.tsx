import { localDate } from "../../../core/time/local";
import { showTime } from "../../../core/time/words";
import { nowIso } from "../../server/platform/clock.server";
import { lazyPart } from "../../ui/lazyPart";
import "../../ui/bench/bench.css";
import { Suspense } from "react";
import { data, Link, useActionData, useLoaderData } from "react-router";
import { filling, serviceKinds, serviceSchema, stillToCome } from "../../../core/bench/service";
import { checkVerdict } from "../../../core/calibration/check";
import { measurandFacts } from "../../../core/quantity/measurand";
import {
  calibrationsOf,
  latestCalibrations,
  meterTrends,
} from "../../server/calibrations/calibrations.server";
import { checksOf } from "../../server/calibrations/checks.server";
import { findDevice, memoryAt } from "../../server/devices/devices.server";
import { placesFor } from "../../server/devices/handOutside.server";
import { findMeter, meterNameSchema, renameMeter } from "../../server/meters/meters.server";
import { recordService, serviceLog } from "../../server/meters/service.server";
import { dbContext, dueContext, personContext } from "../../server/platform/contexts.server";
import { fieldErrors, textField } from "../../server/platform/forms.server";
import { inUseByForm } from "../../server/platform/inUse.server";
import { startRejudging } from "../../server/results/rejudgeRunner.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { keptFor } from "../../server/solutions/kept.server";
import { lotsOfCodes } from "../../server/stock/lots.server";
import { DueMark } from "../../ui/DueMark";
import { EvidencePanel, Rows } from "../../ui/EvidencePanel";
import { KeptCalculations } from "../../ui/KeptCalculations";
import { OutOfUse, TakeOutOfUse } from "../../ui/OutOfUse";
import { TrendStory } from "../../ui/TrendStory";
import { VerdictMark } from "../../ui/VerdictMark";
import { WideTable } from "../../ui/WideTable";
import type { Route } from "./+types/meter";
import { MeterName } from "./MeterName";
import { ServiceForm } from "./ServiceForm";

const SimulatedInstrument = lazyPart(() => import("./SimulatedInstrument"));

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.meter.code ?? "Meter"} · Brintel` },
];

export async function loader({ params, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const meter = await findMeter(db, params.meterId);
  if (!meter) throw new Response("No such meter", { status: 404 });
  const { rules } = await rulesInForce(db);
  const now = nowIso();
  const device = await findDevice(db, meter.id);
  return {
    meter,
    zone: rules.zone,
    now,
    today: localDate(now, rules.zone),
    calibrations: await calibrationsOf(db, meter.id, 15),
    latest: await latestCalibrations(db, meter.id),
    checks: await checksOf(db, meter.id, 10),
    trends: await meterTrends(db, meter, rules),
    due: (await context.get(dueContext)()).filter((d) => d.meter_id === meter.id),
    log: await serviceLog(db, meter.id, 20),
    kept: await keptFor(db, "meter", meter.id),
    device: device
      ? {
          measurands: meter.channels.map((c) => c.measurand),
          faults: device.state.faults,
          speed: device.speed,
          medium: device.state.medium.label,
          follows: device.follows,
          places: await placesFor(db, meter, localDate(now, rules.zone)),
          stored: memoryAt(device, now).stored.length,
          every_min: device.state.memory.every_min,
        }
      : null,
  };
}

/** What is answered: what is wrong at which field, of which form, or when it was done. */
const answered = (of: "service" | "name" | "use", errors: Record<string, string>, at = "") =>
  Object.keys(errors).length
    ? data({ of, errors, at, message: errors.reason ?? "" }, { status: 422 })
    : data({ of, errors, at, message: "" });

/** Writes what was done to the meter or its sensor, sets right what it is called, or takes it out of use or into it again. */
export async function action({ request, params, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const meter = await findMeter(db, params.meterId);
  if (!meter) throw new Response("No such meter", { status: 404 });
  const form = await request.formData();
  const person = context.get(personContext);
  const now = nowIso();
  const inUse = await inUseByForm(db, "meters", meter.id, form, person, now);
  if (inUse) return answered("use", inUse.message ? { reason: inUse.message } : {}, now);
  if (form.get("do") === "name") {
    const read = meterNameSchema.safeParse({
      code: textField(form, "code"),
      name: textField(form, "name"),
      place: textField(form, "place"),
    });
    if (!read.success) return answered("name", fieldErrors(read.error));
    const kept = await renameMeter(db, meter.id, read.data, person, now);
    return answered("name", kept ? {} : { code: "Another meter has this code." }, now);
  }
  const parsed = serviceSchema.safeParse({
    kind: textField(form, "kind"),
    measurand: textField(form, "measurand"),
    on_date: textField(form, "on_date"),
    clock: textField(form, "clock"),
    code: textField(form, "code"),
    lot: textField(form, "lot"),
    note: textField(form, "note"),
  });
  if (!parsed.success) return answered("service", fieldErrors(parsed.error));
  const { lot: code, ...service } = parsed.data;
  const { zone } = (await rulesInForce(db)).rules;
  const toCome = stillToCome(service, now, zone);
  if (toCome) return answered("service", { [toCome.field]: toCome.message });
  const [filled] = code && filling.has(service.kind) ? await lotsOfCodes(db, [code]) : [];
  const refused =
    code && filling.has(service.kind)
      ? !filled
        ? `No bottle ${code} is on the shelf.`
        : filled.lot.withdrawn
          ? `${filled.lot.code} was withdrawn. Take another.`
          : null
      : null;
  if (refused) return answered("service", { lot: refused });
  const entry = { ...service, lot_id: filled?.id ?? null };
  const { rejudging } = await recordService(db, meter, entry, person, now);
  if (rejudging) startRejudging(rejudging);
  return answered("service", {}, now);
}

export default function MeterPage() {
  const { meter, zone, now, today, latest, due, device, trends, kept } = useLoaderData<typeof loader>();
  const answer = useActionData<typeof action>();
  const out = meter.out_of_use;
  const next =
    due.find((d) => d.when === "now" && d.kind !== "lot") ?? due.find((d) => d.kind === "calibrate");
  const failed = latest.some((c) => c.verdict === "failed");
  const worst = latest.some((c) => c.verdict === "qualified") ? "qualified" : "sound";
  return (
    <>
      <main className="stack">
        <div>
          <h1>
            {meter.code} · {meter.name}
          </h1>
          <p className="sub">
            {meter.channels.map((c) => measurandFacts[c.measurand].name).join(", ")}, used{" "}
            {meter.place === "bench" ? "at the bench" : "in the field"}.
            {meter.channels.every((c) => c.display === "value") && " Shows only finished values."}
          </p>
        </div>
        {out ? (
          <OutOfUse out={out} zone={zone} what="Nothing of it is due, and nothing is measured with it." />
        ) : (
          <section className="stack close" aria-label="How it stands">
            <div className="headline">
              {next || latest.length === 0 ? (
                failed ? (
                  <VerdictMark verdict="failed" size={30} />
                ) : (
                  <DueMark size={30} />
                )
              ) : (
                <VerdictMark verdict={worst} size={30} />
              )}
              {next ? `${next.title}.` : latest.length ? "Ready." : "Never calibrated."}
            </div>
            {next && <p className="quiet">Due: {next.detail}.</p>}
            <div className="cluster">
              {next ? (
                <Link to={next.href} className="act">
                  {next.title}
                </Link>
              ) : (
                <Link to={`/meters/${meter.id}/read`} className="act">
                  Take a reading
                </Link>
              )}
              <Link
                to={`/meters/${meter.id}/${next?.kind === "calibrate" ? "read" : "calibrate"}`}
                className="calm"
              >
                {next?.kind === "calibrate" ? "Take a reading all the same" : "Calibrate again"}
              </Link>
              <Link to={`/meters/${meter.id}/check`} className="calm">
                Check without adjusting
              </Link>
            </div>
          </section>
        )}
        {trends.map(({ measurand, trend }) =>
          trend.history.length > 1 ? (
            <section className="sheet measurand-sheet" key={measurand}>
              <h2>{measurandFacts[measurand].name}</h2>
              <TrendStory trend={trend} zone={zone} height={150} />
            </section>
          ) : null,
        )}
        <History />
        <KeptCalculations kept={kept} zone={zone} calculateFor={meter.code} />
        <ServiceForm
          measured={meter.channels.map((c) => c.measurand)}
          today={today}
          errors={answer?.of === "service" ? answer.errors : {}}
          kept={answer?.of === "service" ? answer.at : ""}
        />
        <div className="stack close">
          <MeterName meter={meter} errors={answer?.of === "name" ? answer.errors : {}} />
          {!out && (
            <TakeOutOfUse
              summary="This meter is used no more"
              hint="Nothing of it is due any more, and it is offered nowhere. What was measured with it stays, and it can be taken into use again."
            />
          )}
        </div>
      </main>
      <EvidencePanel title={device ? "Simulated instrument" : "Without a cable"}>
        {device ? (
          <Suspense fallback={null}>
            <SimulatedInstrument key={meter.id} meterId={meter.id} device={device} />
          </Suspense>
        ) : (
          <p className="quiet">
            This meter has no cable. You read its display and type what it shows; Brintel asks for the value
            before and after adjusting.
          </p>
        )}
        <h3>Sensors</h3>
        <Rows
          rows={meter.channels.map((c) => [
            measurandFacts[c.measurand].name,
            `since ${showTime(`${c.sensor_since}T12:00:00Z`, zone, "day")}`,
          ])}
        />
        <p className="quiet small under-rows">
          {latest.map(
            (c) =>
              `${measurandFacts[c.measurand].name}: ${c.valid_until >= now ? "valid until" : "ended"} ${showTime(c.valid_until, zone, "both")}. `,
          )}
        </p>
      </EvidencePanel>
    </>
  );
}

function History() {
  const { calibrations, checks, log, zone } = useLoaderData<typeof loader>();
  return (
    <>
      {calibrations.length > 0 && (
        <section className="stack close">
          <h2>Calibrations</h2>
          <WideTable name="The calibrations">
            <table className="figures">
              <thead>
                <tr>
                  <th>When</th>
                  <th>What</th>
                  <th>Verdict</th>
                  <th>Known by</th>
                  <th>By</th>
                </tr>
              </thead>
              <tbody>
                {calibrations.map((c) => (
                  <tr key={c.id}>
                    <td className="nowrap">
                      <Link to={`/calibrations/${c.work_id}`}>{showTime(c.finished_at, zone, "both")}</Link>
                    </td>
                    <td>{measurandFacts[c.measurand].name}</td>
                    <td>
                      <VerdictMark verdict={c.verdict} word />
                    </td>
                    <td className="m">{c.headline}</td>
                    <td className="nowrap">{c.by}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </WideTable>
        </section>
      )}
      {checks.length > 0 && (
        <section className="stack close">
          <h2>Checks</h2>
          <ul className="findings">
            {checks.map((c) => (
              <li key={c.id}>
                <VerdictMark verdict={checkVerdict(c)} />
                <div>
                  <Link to={`/checks/${c.work_id}`}>
                    {showTime(c.at, zone, "both")}, {c.moment}
                  </Link>
                  , {measurandFacts[c.measurand].word}
                  {c.outcome.taken_out && (
                    <div className="limit">taken out: {c.outcome.taken_out.reason}</div>
                  )}
                </div>
              </li>
            ))}
          </ul>
        </section>
      )}
      {log.length > 0 && (
        <section className="stack close">
          <h2>Service</h2>
          <ul className="findings">
            {log.map((e) => (
              <li key={e.id}>
                {e.taken_out ? <VerdictMark verdict="void" /> : <DueMark />}
                <div>
                  <Link to={`/services/${e.id}`}>
                    {showTime(e.done_at, zone, "both")}: {serviceKinds[e.kind]}
                    {e.measurand ? `, ${measurandFacts[e.measurand].word}` : ""}
                  </Link>
                  {e.taken_out && <div className="limit">taken out: {e.taken_out.reason}</div>}
                  {e.lot && <div className="limit">from bottle {e.lot}</div>}
                  {e.note && <div className="limit">{e.note}</div>}
                  <div className="limit">{e.by}</div>
                </div>
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}
