import { Select } from "antd";
import { useEffect, useState } from "react";
import { data, Form, redirect, useActionData, useLoaderData } from "react-router";
import { isZone, localDate, zoneNames } from "../../../core/time/local";
import { meterFromForm } from "../../server/meters/meterForm.server";
import { addMeter, allMeters } from "../../server/meters/meters.server";
import { addPerson, listPeople, newPersonSchema } from "../../server/people/people.server";
import { hashSecret, passwordSchema } from "../../server/people/secret.server";
import { letIn } from "../../server/people/signIn.server";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext } from "../../server/platform/contexts.server";
import { fieldErrors, textField } from "../../server/platform/forms.server";
import { askingOf, signInHeaders, whoIsHere } from "../../server/platform/session.server";
import { writeLocked } from "../../server/platform/write.server";
import { rulesInForce, setFirstZone } from "../../server/rules/rules.server";
import { siteFromForm } from "../../server/sites/siteForm.server";
import { addSite, allSites } from "../../server/sites/sites.server";
import { lotFromForm } from "../../server/stock/lotForm.server";
import { addLot } from "../../server/stock/lots.server";
import { standardShelf } from "../../server/stock/standards.server";
import { LotFields } from "../../ui/LotFields";
import { MeterFields } from "../../ui/MeterFields";
import { SecretField } from "../../ui/SecretField";
import { SiteFields } from "../../ui/SiteFields";
import { TextField } from "../../ui/TextField";
import { useSending } from "../../ui/useSending";
import type { Route } from "./+types/start";

export const meta: Route.MetaFunction = () => [{ title: "First steps · Brintel" }];

type Step = "person" | "site" | "meter" | "lot";

export async function loader({ request, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const { zone } = (await rulesInForce(db)).rules;
  const today = localDate(nowIso(), zone);
  const [people, sites, meters, lots] = await Promise.all([
    listPeople(db),
    allSites(db),
    allMeters(db),
    standardShelf(db, today),
  ]);
  // A pH meter needs two different buffers; any other meter one standard.
  const different = new Set(lots.map(({ lot }) => lot.material || lot.code)).size;
  const enough = meters.some((m) => m.channels.some((c) => c.measurand === "ph")) ? 2 : 1;
  const step: Step | null =
    people.length === 0
      ? "person"
      : sites.length === 0
        ? "site"
        : meters.length === 0
          ? "meter"
          : different < enough
            ? "lot"
            : null;
  if (step === null) {
    const [meter] = meters;
    throw redirect(meter ? `/meters/${meter.id}/calibrate` : "/");
  }
  // Once somebody is there, the steps belong to whoever is at the bench.
  const known = (await whoIsHere(request, db)) !== undefined;
  if (step !== "person" && !known) throw redirect("/sign-in?next=/start");
  return {
    step,
    today,
    zones: step === "person" ? zoneNames() : [],
    lots: lots.map(({ lot }) => `${lot.name}, ${lot.code}`),
  };
}

export async function action({ request, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const now = nowIso();
  const form = await request.formData();
  const refuse = (errors: Record<string, string>) => data({ errors }, { status: 422 });
  if (form.get("step") === "person") {
    if ((await listPeople(db)).length > 0) return redirect("/sign-in?next=/start");
    const parsed = newPersonSchema.safeParse({ name: textField(form, "name"), role: "manager" });
    const password = passwordSchema(textField(form, "name") || "-").safeParse(
      String(form.get("password") ?? ""),
    );
    const zone = textField(form, "zone");
    const errors = {
      ...(parsed.success ? {} : fieldErrors(parsed.error)),
      ...(password.success ? {} : { password: password.error.issues[0]?.message ?? "" }),
      ...(isZone(zone) ? {} : { zone: "Choose the time zone you work in." }),
    };
    if (!parsed.success || !password.success || !isZone(zone)) return refuse(errors);
    const secrets = { password: await hashSecret(password.data) };
    const person = await addPerson(db, parsed.data, null, now, secrets);
    if (!person) return redirect("/sign-in?next=/start");
    await setFirstZone(db, person, zone, now);
    const asking = await askingOf(request);
    const signedIn = await writeLocked(db, (trx) => letIn(trx, person, asking, "password", now));
    return redirect("/start", "session" in signedIn ? { headers: await signInHeaders(signedIn) } : undefined);
  }
  const person = await whoIsHere(request, db);
  if (!person) return redirect("/sign-in?next=/start");
  switch (form.get("step")) {
    case "site": {
      const parsed = siteFromForm(form);
      if (!parsed.success) return refuse(fieldErrors(parsed.error));
      await addSite(db, parsed.data, person, now);
      return redirect("/start");
    }
    case "meter": {
      const parsed = meterFromForm(form);
      if (!parsed.success) return refuse(fieldErrors(parsed.error));
      await addMeter(db, parsed.data, person, now);
      return redirect("/start");
    }
    default: {
      const parsed = lotFromForm(form);
      if (!parsed.success) return refuse(fieldErrors(parsed.error));
      const lot = await addLot(db, parsed.data, person, now);
      return lot ? redirect("/start") : refuse({ code: `There is a lot ${parsed.data.code} already.` });
    }
  }
}

const words: Record<Step, { short: string; title: string; why: string }> = {
  person: {
    short: "You",
    title: "Who are you?",
    why: "Every value carries the name of whoever measured it.",
  },
  site: {
    short: "Water",
    title: "Where do you take your water?",
    why: "The pH you expect there decides which buffers bracket it.",
  },
  meter: { short: "Meter", title: "Your first meter", why: "More can be registered later." },
  lot: {
    short: "Standards",
    title: "The standards on your shelf",
    why: "For pH two different buffers are enough to begin; a third serves as a check.",
  },
};

const steps: Step[] = ["person", "site", "meter", "lot"];

export default function Start() {
  const { step, today, zones, lots } = useLoaderData<typeof loader>();
  const answer = useActionData<typeof action>();
  const busy = useSending();
  const errors: Record<string, string> = answer?.errors ?? {};
  const text = words[step];
  const at = steps.indexOf(step);
  return (
    <div className="first-steps">
      <ol className="step-line" aria-label="The four steps">
        {steps.map((s, i) => (
          <li
            key={s}
            className={i < at ? "done" : i === at ? "here" : ""}
            aria-current={i === at ? "step" : undefined}
          >
            <span className="m">{i + 1}</span> {words[s].short}
          </li>
        ))}
      </ol>
      <div className="stack">
        <div>
          <h1>{text.title}</h1>
          <p className="sub">{text.why}</p>
        </div>
        {step === "lot" && lots.length > 0 && (
          <p className="note">Registered: {lots.join(" · ")}. One more.</p>
        )}
        <Form method="post" className="form sheet" key={`${step}-${lots.length}`}>
          <input type="hidden" name="step" value={step} />
          {step === "person" && (
            <>
              <TextField name="name" label="Your name" wrong={errors.name} />
              <SecretField
                name="password"
                label="Choose a password"
                kind="new-password"
                wrong={errors.password}
                hint="At least 10 characters: three or four words are easy to keep in mind. You manage: others get theirs from you."
              />
              <ZoneField zones={zones} wrong={errors.zone} />
            </>
          )}
          {step === "site" && <SiteFields errors={errors} />}
          {step === "meter" && <MeterFields errors={errors} today={today} />}
          {step === "lot" && <LotFields errors={errors} today={today} />}
          <button type="submit" className="act" disabled={busy}>
            Go on
          </button>
        </Form>
        {step === "person" && (
          <p className="quiet">
            Would you rather look around first? <code className="m">npm run demo</code> serves the same
            program with twelve weeks of an invented trust&apos;s ponds, on a database of its own.
          </p>
        )}
      </div>
    </div>
  );
}

/** The organisation's zone: days, due dates and expiries are in it. The browser's own is proposed. */
function ZoneField({ zones, wrong }: { zones: readonly string[]; wrong: string | undefined }) {
  const [zone, setZone] = useState("UTC");
  useEffect(() => {
    const own = Intl.DateTimeFormat().resolvedOptions().timeZone;
    if (zones.includes(own)) setZone(own);
  }, [zones]);
  return (
    <div className="field">
      <span className="label">Time zone</span>
      <input type="hidden" name="zone" value={zone} />
      <Select
        aria-label="Time zone"
        size="large"
        showSearch
        value={zone}
        onChange={setZone}
        options={zones.map((value) => ({ value, label: value.replaceAll("_", " ") }))}
      />
      <div className="hint">When a day ends, a bottle runs out and a check is due goes by it.</div>
      {wrong && <div className="wrong">{wrong}</div>}
    </div>
  );
}
