import { Checkbox, Input, Select } from "antd";
import { useState } from "react";
import { data, Form, Link, redirect, useActionData, useLoaderData, useSearchParams } from "react-router";
import { ulid } from "ulid";
import { z } from "zod";
import { type Measurand, measurandFacts, measurands } from "../../../core/quantity/measurand";
import { localDate } from "../../../core/time/local";
import { showTime } from "../../../core/time/words";
import { startRefusal } from "../../server/bench/bench.server";
import { latestCalibrations } from "../../server/calibrations/calibrations.server";
import { startReading } from "../../server/calibrations/startWork.server";
import { controlDue } from "../../server/day/due.server";
import { meterToUse } from "../../server/meters/meters.server";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, dueContext, personContext } from "../../server/platform/contexts.server";
import { owedToMeter } from "../../server/quality/overview.server";
import { bottlesToCheck, subjectInForm } from "../../server/quality/subjectForm.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { findSite, sitesInUse } from "../../server/sites/sites.server";
import { DueMark } from "../../ui/DueMark";
import { OwedNow } from "../../ui/OwedNow";
import { StartButton } from "../../ui/StartButton";
import { SubjectFields } from "../../ui/SubjectFields";
import { sampleFields } from "../../ui/sampleFields";
import { sampleName } from "../../ui/sampleName";
import { useSending } from "../../ui/useSending";
import { VerdictMark } from "../../ui/VerdictMark";
import type { Route } from "./+types/startReading";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `Reading with ${loaderData?.meter.code} · Brintel` },
];

export async function loader({ params, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const meter = await meterToUse(db, params.meterId);
  const { rules } = await rulesInForce(db);
  const now = nowIso();
  const latest = await latestCalibrations(db, meter.id);
  return {
    meter,
    sites: await sitesInUse(db),
    calibrations: meter.channels.map((c) => ({
      measurand: c.measurand,
      calibration: latest.find((l) => l.measurand === c.measurand) ?? null,
    })),
    owed: await owedToMeter(db, meter.id, now),
    control: controlDue(await context.get(dueContext)(), meter.id),
    bottles: (await bottlesToCheck(db, notReckoned, localDate(now, rules.zone))).map((b) => ({
      ...b,
      holds: null,
    })),
    now,
    today: localDate(now, rules.zone),
    zone: rules.zone,
    ids: { work: ulid(), event: ulid() },
  };
}

const needsLine = new Set<Measurand>(["ph", "conductivity", "oxygen"]);

/** What a meter can be held against besides the standards of its checks. */
const kindsOfMeters = ["sample", "blank", "control"] as const;
/** A meter measures several things at once: what a bottle holds of each is not reckoned, its own first results say it. */
const notReckoned = { unit: "", species: "" };

const startSchema = z.object({
  ...sampleFields,
  in_place: z.literal("yes").optional(),
  measurands: z.array(z.enum(measurands)).min(1, { error: "Choose what to read." }),
});

const refuse = (message: string, errors: Record<string, string> = {}) =>
  data({ message, errors }, { status: 422 });

export async function action({ request, params, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const meter = await meterToUse(db, params.meterId);
  const form = await request.formData();
  const parsed = startSchema.safeParse({ ...Object.fromEntries(form), measurands: form.getAll("measurand") });
  if (!parsed.success) return refuse(parsed.error.issues[0]?.message ?? "");
  const site = await findSite(db, parsed.data.site);
  if (!site) return refuse("This site is gone. Choose another.");
  const latest = await latestCalibrations(db, meter.id);
  const wanted = parsed.data.measurands.filter((m) => meter.channels.some((c) => c.measurand === m));
  // Only a signal that needs a line is nothing without one; a displayed value stands for itself.
  const missing = wanted.filter(
    (m) =>
      needsLine.has(m) &&
      meter.channels.find((c) => c.measurand === m)?.display === "signal" &&
      !latest.some((c) => c.measurand === m),
  );
  if (missing.length) {
    const words = missing.map((m) => measurandFacts[m].word).join(", ");
    return refuse(
      `${meter.code} has never been calibrated for ${words}, so its signal has no value yet. Calibrate it first.`,
    );
  }
  const { rules } = await rulesInForce(db);
  const vessel = await subjectInForm(db, form, notReckoned, localDate(nowIso(), rules.zone));
  const [wrong] = Object.values(vessel.errors);
  if (wrong) return refuse(wrong, vessel.errors);
  const start = {
    work_id: parsed.data.work,
    event_id: parsed.data.event,
    actor: context.get(personContext),
    at: nowIso(),
    visit_id: parsed.data.visit,
  };
  const { sample, collected, in_place } = parsed.data;
  const refused = await startReading(db, start, meter, site, {
    sample,
    measurands: wanted,
    collected_at: collected,
    in_place: in_place === "yes",
    subject: vessel.subject,
  }).catch(startRefusal);
  if (refused) return refuse(refused);
  return redirect(`/readings/${parsed.data.work}`);
}

const noErrors: Record<string, string> = {};

export default function StartReading() {
  const { meter, sites, calibrations, control, bottles, now, today, zone, ids, owed } =
    useLoaderData<typeof loader>();
  const [query] = useSearchParams();
  const answer = useActionData<typeof action>();
  const errors = answer?.errors ?? noErrors;
  const busy = useSending();
  const named = (id: string | undefined) => {
    const site = sites.find((s) => s.id === id);
    return site ? sampleName(site.name, today) : "";
  };
  const [site, setSite] = useState<string | undefined>(query.get("site") ?? sites[0]?.id);
  const [sample, setSample] = useState(named(query.get("site") ?? sites[0]?.id));
  return (
    <main className="narrow">
      <h1>Take a reading with {meter.code}</h1>
      <p className="sub">
        {calibrations.map((c) => measurandFacts[c.measurand].name).join(", ")}: in duplicate, two portions one
        after the other, or in the water itself.
      </p>
      {control && (
        <p className="note">
          <DueMark />
          <span>
            {control.title}: {control.detail}. <Link to={control.href}>Do it first</Link>.
          </span>
        </p>
      )}
      <CalibrationStates meter={meter} calibrations={calibrations} now={now} zone={zone} />
      {sites.length === 0 ? (
        <p className="note">
          <DueMark /> <Link to="/sites">Say first where you take your water</Link>
        </p>
      ) : (
        <Form method="post" className="form sheet">
          <input type="hidden" name="work" value={ids.work} />
          <input type="hidden" name="event" value={ids.event} />
          <input type="hidden" name="visit" value={query.get("visit") ?? ""} />
          {calibrations.length === 1 ? (
            <input type="hidden" name="measurand" value={calibrations[0]?.measurand} />
          ) : (
            <fieldset className="measurand-choice">
              <legend>What to read</legend>
              {calibrations.map(({ measurand, calibration }) => (
                <Checkbox
                  key={measurand}
                  name="measurand"
                  value={measurand}
                  defaultChecked={calibration !== null || !needsLine.has(measurand)}
                >
                  {measurandFacts[measurand].name}
                </Checkbox>
              ))}
            </fieldset>
          )}
          <input type="hidden" name="site" value={site ?? ""} />
          <div className="field">
            <span className="label">Site</span>
            <Select
              aria-label="Site"
              size="large"
              style={{ width: "100%" }}
              value={site ?? null}
              options={sites.map((s) => ({
                value: s.id,
                label: s.expected.ph
                  ? `${s.name} (pH ${s.expected.ph.low.toFixed(1)} – ${s.expected.ph.high.toFixed(1)} expected)`
                  : s.name,
              }))}
              onChange={(id: string | null) => {
                setSite(id ?? undefined);
                setSample(named(id ?? undefined));
              }}
            />
          </div>
          {!query.get("of") && <OwedNow owed={owed} />}
          <SubjectFields
            kinds={kindsOfMeters}
            unit=""
            bottles={bottles}
            unspiked={[]}
            errors={errors}
            initial={z.enum(kindsOfMeters).safeParse(query.get("of")).data ?? "sample"}
            initialCode={query.get("bottle") ?? ""}
          />
          <Checkbox name="in_place" value="yes" defaultChecked={query.has("visit")}>
            In the water itself, nothing poured:{" "}
            {meter.has_cable ? "one reading, once it is steady" : "two looks at the display"}
          </Checkbox>
          <div className="field">
            <label htmlFor="sample">Sample</label>
            <Input
              id="sample"
              name="sample"
              size="large"
              value={sample}
              onChange={(e) => setSample(e.target.value)}
            />
            <div className="hint">The name on the bottle.</div>
          </div>
          {answer?.message && (
            <p className="wrong" role="alert">
              {answer.message}
            </p>
          )}
          <div className="actions">
            <StartButton busy={busy} />
          </div>
        </Form>
      )}
    </main>
  );
}

type Loaded = ReturnType<typeof useLoaderData<typeof loader>>;

/** What each calibration in force is worth, before anything is read with it. */
function CalibrationStates({
  meter,
  calibrations,
  now,
  zone,
}: Pick<Loaded, "meter" | "calibrations" | "now" | "zone">) {
  return calibrations.map(({ measurand, calibration }) => {
    const valid = calibration && calibration.verdict !== "failed" && calibration.valid_until >= now;
    const name = calibrations.length > 1 ? `${measurandFacts[measurand].name}: ` : "";
    if (valid) {
      return (
        <p className="note" key={measurand}>
          <VerdictMark verdict={calibration.verdict} />
          <span>
            {name}calibrated {showTime(calibration.finished_at, zone, "both")}, {calibration.headline}.
          </span>
        </p>
      );
    }
    const held = needsLine.has(measurand);
    return (
      <p className="note" key={measurand}>
        <VerdictMark verdict={held ? "held" : "qualified"} />
        <span>
          {name}
          {!calibration
            ? `${meter.code} has never been calibrated.`
            : calibration.verdict === "failed"
              ? `The last calibration of ${meter.code} failed.`
              : `${meter.code} was last calibrated ${showTime(calibration.finished_at, zone, "both")}.`}{" "}
          A reading now will {held ? "be held" : "carry a note"}.{" "}
          <Link to={`/meters/${meter.id}/calibrate?of=${measurand}`}>Calibrate it first</Link>.
        </span>
      </p>
    );
  });
}
