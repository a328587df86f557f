import { data, Form, redirect, useActionData, useLoaderData, useNavigation } from "react-router";
import { localDate } from "../../../core/time/zone";
import { lotFromForm } from "../../server/lotForm.server";
import { addLot, listLots } from "../../server/lots.server";
import { meterFromForm } from "../../server/meterForm.server";
import { addMeter, listMeters } from "../../server/meters.server";
import { addPerson, findPerson, listPeople, newPersonSchema } from "../../server/people.server";
import { dbContext } from "../../server/platform/contexts.server";
import { fieldErrors, textField } from "../../server/platform/forms.server";
import { benchCookie } from "../../server/platform/session.server";
import { siteFromForm } from "../../server/siteForm.server";
import { addSite, listSites } from "../../server/sites.server";
import { LotFields } from "../../shared/LotFields";
import { MeterFields } from "../../shared/MeterFields";
import { SiteFields } from "../../shared/SiteFields";
import { TextField } from "../../shared/TextField";
import type { Route } from "./+types/start";

export const meta: Route.MetaFunction = () => [{ title: "First steps · Brintel" }];

type Step = "person" | "site" | "meter" | "lot";

export async function loader({ request, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const today = localDate(new Date().toISOString(), "UTC");
  const [people, sites, meters, lots] = await Promise.all([
    listPeople(db),
    listSites(db),
    listMeters(db),
    listLots(db),
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
  const id: unknown = await benchCookie.parse(request.headers.get("Cookie"));
  const known = typeof id === "string" && (await findPerson(db, id)) !== undefined;
  if (step !== "person" && !known) throw redirect("/people?next=/start");
  return { step, today, lots: lots.map(({ lot }) => `${lot.name}, ${lot.code}`) };
}

export async function action({ request, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const now = new Date().toISOString();
  const form = await request.formData();
  const refuse = (errors: Record<string, string>) => data({ errors }, { status: 422 });
  if (form.get("step") === "person") {
    if ((await listPeople(db)).length > 0) return redirect("/people?next=/start");
    const parsed = newPersonSchema.safeParse({ name: textField(form, "name"), role: "manager" });
    if (!parsed.success) return refuse(fieldErrors(parsed.error));
    const person = await addPerson(db, parsed.data, null, now);
    return redirect(
      "/start",
      person ? { headers: { "Set-Cookie": await benchCookie.serialize(person.id) } } : undefined,
    );
  }
  const id: unknown = await benchCookie.parse(request.headers.get("Cookie"));
  const person = typeof id === "string" ? await findPerson(db, id) : undefined;
  if (!person) return redirect("/people?next=/start");
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

const words: Record<Step, { count: string; title: string; why: string }> = {
  person: {
    count: "1 of 4",
    title: "Who are you?",
    why: "Every value carries the name of whoever measured it.",
  },
  site: {
    count: "2 of 4",
    title: "Where do you take your water?",
    why: "The pH you expect there decides which buffers bracket it.",
  },
  meter: { count: "3 of 4", title: "Your first meter", why: "More can be registered later." },
  lot: {
    count: "4 of 4",
    title: "The standards on your shelf",
    why: "For pH two different buffers are enough to begin; a third serves as a check.",
  },
};

export default function Start() {
  const { step, today, lots } = useLoaderData<typeof loader>();
  const answer = useActionData<typeof action>();
  const busy = useNavigation().state !== "idle";
  const errors = answer?.errors ?? {};
  const text = words[step];
  return (
    <>
      <p className="quiet m">{text.count}</p>
      <h1>{text.title}</h1>
      <p className="sub">{text.why}</p>
      {step === "lot" && lots.length > 0 && <p className="note">Registered: {lots.join(" · ")}. One more.</p>}
      <Form method="post" className="form sheet" key={`${step}-${lots.length}`}>
        <input type="hidden" name="step" value={step} />
        {step === "person" && <TextField name="name" label="Your name" wrong={errors.name} />}
        {step === "site" && <SiteFields errors={errors} />}
        {step === "meter" && <MeterFields errors={errors} today={today} />}
        {step === "lot" && <LotFields errors={errors} today={today} />}
        <button type="submit" className="act" disabled={busy}>
          Go on
        </button>
      </Form>
    </>
  );
}
