import { localDate } from "../../../core/time/local";
import { showTime } from "../../../core/time/words";
import { nowIso } from "../../server/platform/clock.server";
import { CollectedField } from "../../ui/CollectedField";
import { useSending } from "../../ui/useSending";
import "./runs.css";
import { Select } from "antd";
import { useState } from "react";
import { data, Form, Link, redirect, useActionData, useLoaderData } from "react-router";
import { ulid } from "ulid";
import { z } from "zod";
import { resultKinds } from "../../../core/bench/resultKinds";
import { namedMaterials } from "../../../core/methods/methodWords";
import { curveServes, isSameCurve } from "../../../core/runs/techniques/dayCurve";
import { wasteWords } from "../../../core/stock/wasteStreams";
import { findWork, startRefusal } from "../../server/bench/bench.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { owedNow } from "../../server/quality/overview.server";
import { bottlesToCheck, resultsToSpike, subjectInForm } from "../../server/quality/subjectForm.server";
import { waitedTooLong } from "../../server/results/waited.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { findMethod } from "../../server/runs/methods.server";
import { lastOnBench, startRun } from "../../server/runs/runs.server";
import { sampleIdCalled } from "../../server/samples/samples.server";
import { findSite, sitesInUse } from "../../server/sites/sites.server";
import { bottlesFor } from "../../server/stock/bottlesFor.server";
import { lotsInHand, openLots } from "../../server/stock/lotsInHand.server";
import { EvidencePanel } from "../../ui/EvidencePanel";
import { OwedNow } from "../../ui/OwedNow";
import { StartButton } from "../../ui/StartButton";
import { SubjectFields } from "../../ui/SubjectFields";
import { sampleName } from "../../ui/sampleName";
import { WaitedNote } from "../../ui/WaitedNote";
import type { Route } from "./+types/startRun";
import { bottleCalled, Field, Lines, LotRow, proposedCode } from "./StartRunFields";
import { startFormSchema } from "./startForm";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.method.name ?? "Run"} · Brintel` },
];

export async function loader({ params, url, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const stored = await findMethod(db, params.methodId);
  if (!stored) throw new Response("No such method", { status: 404 });
  // The method's own page says since when, and why.
  if (stored.out_of_use) throw redirect(`/methods/${stored.method.id}`);
  const { rules } = await rulesInForce(db);
  const now = nowIso();
  const today = localDate(now, rules.zone);
  const query = url.searchParams;
  // A test of a plan has the id of its run already: it is begun once, from wherever.
  const planned = z.ulid().safeParse(query.get("work")).data;
  if (planned && (await findWork(db, planned))) throw redirect(`/runs/${planned}`);
  const onBench = await lastOnBench(db, stored.method.id);
  return {
    method: stored.method,
    sites: (await sitesInUse(db)).map(({ id, name }) => ({ id, name })),
    lots: onBench.lots,
    curve: onBench.drawn_at && curveServes(onBench.drawn_at, now) ? onBench.curve : [],
    bottles: await bottlesFor(db, stored.method, today),
    today,
    checks: {
      bottles: await bottlesToCheck(db, stored.method.result, today),
      unspiked: await resultsToSpike(db, stored.method, rules.zone),
      kind: z.enum(resultKinds).safeParse(query.get("of")).data ?? ("sample" as const),
      code: query.get("bottle") ?? "",
    },
    owed: await owedNow(
      db,
      rules,
      {
        instrument_id: stored.method.id,
        source: "analysis",
        technique: stored.method.measure.technique,
      },
      now,
    ),
    waited: await waitedTooLong(
      db,
      await sampleIdCalled(db, query.get("sample") ?? "", query.get("site") ?? "", {
        started_at: now,
        finished_at: now,
      }),
      [{ parameter: stored.method.result.parameter, keeps_min: stored.method.sample.keeps_min }],
      now,
    ),
    zone: rules.zone,
    site: query.get("site"),
    sample: query.get("sample"),
    visit: query.get("visit"),
    collected: query.get("collected"),
    dilutes: query.get("dilutes"),
    dilution: query.get("dilution") ?? "1",
    ids: { work: planned ?? ulid(), event: ulid() },
  };
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const stored = await findMethod(db, params.methodId);
  if (!stored) throw new Response("No such method", { status: 404 });
  const { method } = stored;
  if (stored.out_of_use) throw redirect(`/methods/${method.id}`);
  const form = await request.formData();
  const parsed = startFormSchema(method).safeParse(Object.fromEntries(form));
  const errors: Record<string, string> = {};
  if (!parsed.success) {
    for (const issue of parsed.error.issues) errors[String(issue.path[0])] ??= issue.message;
  }
  const { rules } = await rulesInForce(db);
  const now = nowIso();
  const today = localDate(now, rules.zone);
  const site = parsed.success ? await findSite(db, parsed.data.site) : undefined;
  if (parsed.success && !site) errors.site = "This site is gone. Choose another.";
  const inHand = await lotsInHand(db, method, form, today, parsed.data?.curve);
  const vessel = await subjectInForm(db, form, method.result, today);
  Object.assign(errors, inHand.errors, vessel.errors);
  // What was chosen to be in the vessel is still chosen where the page is made anew.
  const said = { kind: String(form.get("subject") ?? ""), code: String(form.get("subject_code") ?? "") };
  if (!parsed.success || !site || Object.keys(errors).length) return data({ errors, said }, { status: 422 });
  const { work, event, sample, temperature, dilution, dilutes, strength, blank, table, curve, collected } =
    parsed.data;
  const known = await lastOnBench(db, method.id);
  const stood = isSameCurve(curve, known.curve) ? known.drawn_at : null;
  if (stood && !curveServes(stood, now)) {
    const sentence = `These are the readings of ${showTime(stood, rules.zone, "both")}. A curve serves one shift: read the standards again.`;
    return data({ errors: { curve: sentence }, said }, { status: 422 });
  }
  const actor = context.get(personContext);
  const refused = await startRun(
    db,
    { work_id: work, event_id: event, actor, at: now, visit_id: parsed.data.visit },
    inHand.method,
    site,
    {
      sample,
      temperature_c: temperature,
      dilution: dilution ?? 1,
      dilutes: dilutes || null,
      lots: inHand.lots,
      // What stands on the bottle, not what was remembered of it.
      strength: inHand.strength?.value ?? strength,
      strength_uncertainty: inHand.strength?.uncertainty ?? null,
      kit: inHand.kit,
      blank_ml: blank,
      table,
      curve,
      curve_drawn_at: stood ?? undefined,
      collected_at: collected,
      subject: vessel.subject,
    },
  ).catch(startRefusal);
  if (refused) return data({ errors: { form: refused }, said }, { status: 422 });
  await openLots(db, inHand.closed, today, actor, now);
  return redirect(`/runs/${work}`);
}

export default function StartRun() {
  const { method, sites, lots, bottles, curve, today, ids, checks, ...from } = useLoaderData<typeof loader>();
  const answer = useActionData<typeof action>();
  const errors: Record<string, string> = answer?.errors ?? {};
  const busy = useSending();
  const [site, setSite] = useState(from.site ?? sites[0]?.id ?? "");
  const named = (id: string) => sampleName(sites.find((s) => s.id === id)?.name ?? "", today);
  const [sample, setSample] = useState(from.sample ?? named(site));
  const { measure } = method;
  const [codes, setCodes] = useState<Record<string, string>>(() =>
    Object.fromEntries(
      method.materials.map((m) => [
        m.key,
        proposedCode(lots.find((l) => l.material === m.key)?.code, bottles[m.key] ?? []),
      ]),
    ),
  );
  const [drawn, setDrawn] = useState(curve.length > 0);
  const refusedStandard = method.materials.some((m) => m.for_curve && errors[`lot-${m.key}`]);
  const materials = namedMaterials(method, drawn || refusedStandard);
  // What stands on a bottle of the shelf is taken from there and not asked for.
  const inHand = method.materials.flatMap(
    (m) => bottleCalled(bottles[m.key] ?? [], codes[m.key] ?? "") ?? [],
  );
  const strong = inHand.find((b) => b.strength);
  const kit = inHand.find((b) => b.kit);
  const titrant = measure.technique === "burette" || measure.technique === "ph-endpoint" ? measure : null;
  return (
    <>
      <main>
        <h1>{method.name}</h1>
        <p className="sub">
          {from.dilutes ? "The diluted run: the factor is multiplied once. " : ""}
          {method.replicates > 1 ? `${method.replicates} replicates. ` : ""}
          Sample: {method.sample.volume_ml} mL, {method.sample.container}.
        </p>
        {sites.length === 0 ? (
          <p className="note">
            <Link to="/sites">Say first where you take your water</Link>
          </p>
        ) : (
          <Form method="post" className="form sheet">
            <input type="hidden" name="work" value={ids.work} />
            <input type="hidden" name="event" value={ids.event} />
            <input type="hidden" name="visit" value={from.visit ?? ""} />
            <input type="hidden" name="dilutes" value={from.dilutes ?? ""} />
            <input type="hidden" name="site" value={site} />
            <div className="two">
              <div className="field">
                <span className="label">Site</span>
                <Select
                  aria-label="Site"
                  size="large"
                  style={{ width: "100%" }}
                  value={site || null}
                  options={sites.map((s) => ({ value: s.id, label: s.name }))}
                  onChange={(id: string) => {
                    setSite(id);
                    setSample(named(id));
                  }}
                />
                {errors.site && <p className="wrong">{errors.site}</p>}
              </div>
              <Field
                label="Sample"
                name="sample"
                value={sample}
                onValue={setSample}
                wrong={errors.sample}
                hint="The name on the bottle."
              />
            </div>
            {checks.kind === "sample" && <OwedNow owed={from.owed} />}
            <SubjectFields
              kinds={resultKinds}
              unit={`${method.result.unit} ${method.result.species}`}
              bottles={checks.bottles}
              unspiked={checks.unspiked}
              errors={errors}
              initial={z.enum(resultKinds).catch(checks.kind).parse(answer?.said.kind)}
              initialCode={answer?.said.code ?? checks.code}
            />
            {errors.form && (
              <p className="wrong" role="alert">
                {errors.form}
              </p>
            )}
            <div className="two">
              <Field
                label="Temperature of the sample"
                name="temperature"
                suffix="°C"
                wrong={errors.temperature}
                hint={`This method takes ${method.sample.temperature_c[0]} to ${method.sample.temperature_c[1]} °C. Cold water waits longer.`}
              />
              <Field
                label="Dilution factor"
                name="dilution"
                start={from.dilution}
                wrong={errors.dilution}
                hint="1 as it is; 5 for one part made up to five."
              />
            </div>
            <CollectedField wrong={errors.collected} initial={from.collected} />
            {titrant && (
              <div className="two">
                {strong ? (
                  <div className="field">
                    <span className="label">Titrant</span>
                    <p className="m">{strong.strength}</p>
                    <p className="hint">As lot {strong.code} says.</p>
                  </div>
                ) : (
                  <Field
                    label={
                      measure.technique === "burette" && measure.formula === "hardness"
                        ? "Titrant, mg CaCO3 per mL"
                        : "Titrant, as standardised"
                    }
                    name="strength"
                    start={String(titrant.strength)}
                    suffix={measure.technique === "burette" && measure.formula === "hardness" ? "mg/mL" : "N"}
                    wrong={errors.strength}
                  />
                )}
                {measure.technique === "burette" && measure.formula !== "oxygen" && (
                  <Field
                    label="Blank"
                    name="blank"
                    start={String(measure.blank_ml)}
                    suffix="mL"
                    wrong={errors.blank}
                  />
                )}
              </div>
            )}
            {measure.technique === "capillary" && !kit && (
              <Lines
                name="table"
                label="The table on the tube of this lot"
                placeholder={measure.table.slice(0, 3).map((r) => `${r.division} ${r.value}`)}
                wrong={errors.table}
                hint="Division and mg/L, a line each. Empty: the method's own table is used."
              />
            )}
            {measure.technique === "photometer-curve" && !kit && (
              <Lines
                name="curve"
                label="The standards of today"
                start={curve.map((s) => `${s.concentration} ${s.signal}`)}
                placeholder={["0 0.003", "0.5 0.108", "1.0 0.212"]}
                wrong={errors.curve}
                onText={(text) => setDrawn(text.trim() !== "")}
                hint={`${method.result.unit} ${method.result.species} and ${measure.signal === "absorbance" ? "absorbance" : "% of the light"}, a line each, three or more. Empty: the method's own curve is used.`}
              />
            )}
            {materials.length > 0 && <h2>Bottles on the bench</h2>}
            {materials.map((m) => (
              <LotRow
                key={m.key}
                material={m}
                code={codes[m.key] ?? ""}
                onCode={(code) => setCodes((all) => ({ ...all, [m.key]: code }))}
                bottles={bottles[m.key] ?? []}
                until={lots.find((l) => l.material === m.key)?.expires_on ?? null}
                today={today}
                wrong={errors[`lot-${m.key}`]}
              />
            ))}
            {from.waited && sample === from.sample && (
              <WaitedNote waited={from.waited} wordOf={() => "this test"} zone={from.zone} />
            )}
            <div className="actions">
              <StartButton busy={busy} />
            </div>
          </Form>
        )}
      </main>
      <EvidencePanel title="Before you begin">
        <p className="quiet">
          New to it? <Link to={`/practice/${method.id}`}>Practise it first</Link>, with made-up water.
        </p>
        <h3>Protect yourself</h3>
        <ul className="points">
          {[...method.protection, ...method.hazards].map((line) => (
            <li key={line}>{line}</li>
          ))}
        </ul>
        <h3>Watch out for</h3>
        <ul className="points">
          {method.interferences.map((line) => (
            <li key={line}>{line}</li>
          ))}
        </ul>
        <h3>Waste</h3>
        <p className="quiet small">
          Into the {wasteWords[method.waste]}. Never pour reacted samples into the water.
        </p>
        <p>
          <Link to={`/methods/${method.id}`}>The whole card</Link>
        </p>
      </EvidencePanel>
    </>
  );
}
