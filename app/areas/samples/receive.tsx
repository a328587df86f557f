import { data, Form, Link, redirect, useActionData, useLoaderData } from "react-router";
import { ulid } from "ulid";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { fieldErrors } from "../../server/platform/forms.server";
import { listMethods } from "../../server/runs/methods.server";
import { bottleTypesInUse } from "../../server/samples/bottleTypes.server";
import { receivedFromForm, receiveSample } from "../../server/samples/receiveSample.server";
import { sitesInUse } from "../../server/sites/sites.server";
import { ChoiceField } from "../../ui/ChoiceField";
import { MomentField } from "../../ui/CollectedField";
import { ManyField } from "../../ui/ManyField";
import { TextField } from "../../ui/TextField";
import { useSending } from "../../ui/useSending";
import type { Route } from "./+types/receive";

export const meta: Route.MetaFunction = () => [{ title: "Receive a sample · Brintel" }];

export async function loader({ context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  return {
    id: ulid(),
    types: (await bottleTypesInUse(db)).map((t) => ({ value: t.id, label: t.name })),
    sites: (await sitesInUse(db)).map(({ id, name }) => ({ value: id, label: name })),
    methods: (await listMethods(db)).flatMap(({ method }) =>
      method.measure.technique === "meter" ? [] : [{ value: method.id, label: method.name }],
    ),
  };
}

export async function action({ request, context }: Route.ActionArgs) {
  const read = receivedFromForm(await request.formData());
  if (!read.success) {
    const { collected_at, ...errors } = fieldErrors(read.error);
    return data(
      { errors: { ...errors, ...(collected_at ? { collected: collected_at } : {}) } },
      { status: 422 },
    );
  }
  const errors = await receiveSample(context.get(dbContext), read.data, context.get(personContext), nowIso());
  return errors ? data({ errors }, { status: 422 }) : redirect(`/samples/${read.data.id}`);
}

export default function Receive() {
  const { id, types, sites, methods } = useLoaderData<typeof loader>();
  const errors: Record<string, string | undefined> = useActionData<typeof action>()?.errors ?? {};
  const busy = useSending();
  if (sites.length === 0) {
    return (
      <main className="stack">
        <h1>Receive a sample</h1>
        <p className="note">
          <Link to="/sites">Say first where your water comes from</Link>, then a sample of it can be received.
        </p>
      </main>
    );
  }
  return (
    <main className="narrow stack">
      <div>
        <h1>Receive a sample</h1>
        <p className="sub">
          Somebody brings a bottle: say what it is and how it came, then it can be tested.
        </p>
      </div>
      <Form method="post" className="sheet stack">
        <input type="hidden" name="id" value={id} />
        <TextField name="code" label="Code on the bottle" wrong={errors.code} mono />
        <ChoiceField
          name="site"
          label="From where"
          options={sites}
          initial={sites[0]?.value ?? ""}
          wrong={errors.site}
        />
        <ChoiceField name="type" label="Which bottle" options={types} initial="general" wrong={errors.type} />
        <MomentField
          name="collected"
          label="Taken at"
          hint="How long the sample keeps runs from then."
          wrong={errors.collected}
        />
        <TextField name="from" label="Brought by" wrong={errors.from} />
        <TextField
          name="temperature_c"
          label="Temperature of the cooler, °C"
          hint="At most 6 °C for most bottles, below 10 °C for microbiology."
          wrong={errors.temperature_c}
          mono
        />
        <TextField
          name="note"
          label="Note"
          hint="What may matter: broken seal, bubbles, colour."
          wrong={errors.note}
        />
        <ManyField name="methods" label="Tests here" options={methods} />
        <div className="cluster">
          <button type="submit" className="act" disabled={busy}>
            Receive it
          </button>
        </div>
      </Form>
    </main>
  );
}
