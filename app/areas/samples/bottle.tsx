import { Checkbox } from "antd";
import { data, Form, Link, redirect, useActionData, useLoaderData } from "react-router";
import { type BottleType, fillWords } from "../../../core/samples/bottleTypes";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { fieldErrors } from "../../server/platform/forms.server";
import { inUseByForm } from "../../server/platform/inUse.server";
import { may } from "../../server/platform/rights.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { bottleTypeFromForm, findBottleType, keepBottleType } from "../../server/samples/bottleTypes.server";
import { ChoiceField } from "../../ui/ChoiceField";
import { OutOfUse, TakeOutOfUse } from "../../ui/OutOfUse";
import { TextField } from "../../ui/TextField";
import { useSending } from "../../ui/useSending";
import type { Route } from "./+types/bottle";

export const meta: Route.MetaFunction = () => [{ title: "Bottle · Brintel" }];

async function typeOf(params: Route.LoaderArgs["params"], context: Route.LoaderArgs["context"]) {
  if (params.typeId === "new") return null;
  const stored = await findBottleType(context.get(dbContext), params.typeId);
  if (!stored) throw new Response("No such bottle", { status: 404 });
  return stored;
}

export async function loader({ params, context }: Route.LoaderArgs) {
  const stored = await typeOf(params, context);
  return {
    type: stored?.type ?? null,
    out: stored?.out_of_use ?? null,
    zone: (await rulesInForce(context.get(dbContext))).rules.zone,
    mayChange: may(context.get(personContext), "methods"),
  };
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const [db, actor, now] = [context.get(dbContext), context.get(personContext), nowIso()];
  const known = (await typeOf(params, context))?.type ?? null;
  const form = await request.formData();
  const none: Record<string, string> = {};
  const inUse = known && (await inUseByForm(db, "bottle-types", known.id, form, actor, now));
  if (inUse?.message) return data({ errors: none, message: inUse.message }, { status: 422 });
  if (inUse) return redirect("/bottles");
  const read = bottleTypeFromForm(form, known);
  if (!read.success) {
    const { id, ...errors } = fieldErrors(read.error);
    return data(
      { errors: { ...errors, ...(id ? { name: "Give it a name with letters or figures." } : {}) } },
      { status: 422 },
    );
  }
  const kept = await keepBottleType(db, read.data, known === null, actor, now);
  if (kept === "taken")
    return data({ errors: { ...none, name: "There is a bottle of this name already." } }, { status: 422 });
  return redirect("/bottles");
}

const fills = (Object.keys(fillWords) as BottleType["fill"][]).map((value) => ({
  value,
  label: fillWords[value],
}));

export default function Bottle() {
  const { type, out, zone, mayChange } = useLoaderData<typeof loader>();
  const errors: Record<string, string | undefined> = useActionData<typeof action>()?.errors ?? {};
  // Single tests stand in one field.
  const testsWrong = Object.keys(errors).some((k) => k.startsWith("tests"))
    ? "A test and its hours, with a comma between: chloride 672, turbidity 48."
    : undefined;
  const busy = useSending();
  const written = (value: number | null | undefined) => (value == null ? "" : String(value));
  return (
    <main className="narrow stack">
      <div>
        <h1>{type ? type.name : "A bottle of your own"}</h1>
        <p className="sub">
          {type
            ? `Version ${type.version}. Bottles that are planned keep the version they were planned with.`
            : "Its card at the water follows what you say here."}
        </p>
      </div>
      {out && (
        <OutOfUse
          out={out}
          zone={zone}
          mayChange={mayChange}
          what="It is offered nowhere. Bottles that are planned or filled stay as they are."
        />
      )}
      <Form method="post" className="sheet stack">
        <TextField name="name" label="Name" initial={type?.name ?? ""} wrong={errors.name} />
        <div className="two">
          <ChoiceField name="fill" label="Filled" options={fills} initial={type?.fill ?? "top"} />
          <TextField
            name="rinses"
            label="Rinses with its own water"
            hint="0 where it is sterile or holds its preservative."
            initial={written(type?.rinses ?? 3)}
            wrong={errors.rinses}
            mono
          />
        </div>
        <div className="two">
          <TextField
            name="pore_um"
            label="Filter, µm"
            hint="Empty where nothing is filtered."
            initial={written(type?.filter?.pore_um)}
            wrong={errors["filter.pore_um"] ?? errors.pore_um}
            mono
          />
          <TextField
            name="flush_ml"
            label="Filter flushed with, mL"
            initial={written(type?.filter?.flush_ml)}
            wrong={errors["filter.flush_ml"] ?? errors.flush_ml}
            mono
          />
        </div>
        <TextField
          name="preservative"
          label="What is added"
          initial={type?.preservative ?? ""}
          wrong={errors.preservative}
        />
        <div className="cluster">
          <Checkbox name="already_in" defaultChecked={type?.already_in ?? false}>
            It stands in the bottle already
          </Checkbox>
          <Checkbox name="pair" defaultChecked={type?.pair ?? false}>
            A pair that is one moment
          </Checkbox>
          <Checkbox name="cold" defaultChecked={type?.cold ?? true}>
            Onto ice and into the dark
          </Checkbox>
        </div>
        <div className="two">
          <TextField
            name="holds_h"
            label="Keeps for, h"
            initial={written(type?.holds_h ?? 24)}
            wrong={errors.holds_h}
            mono
          />
          <TextField
            name="arrives_c"
            label="On arrival at most, °C"
            hint="Empty where it does not matter."
            initial={written(type ? type.arrives_c : 6)}
            wrong={errors.arrives_c}
            mono
          />
        </div>
        <TextField
          name="tests"
          label="Tests with a time of their own"
          hint="A test and its hours: chloride 672, turbidity 48."
          initial={type?.tests.map((t) => `${t.parameter} ${t.holds_h}`).join(", ") ?? ""}
          wrong={testsWrong}
        />
        <TextField
          name="caution"
          label="Caution"
          hint="What can hurt: acid, azide, glass. The safety sheet says the rest."
          initial={type?.caution ?? ""}
          wrong={errors.caution}
        />
        <div className="cluster">
          <button type="submit" className="act" disabled={busy}>
            Keep it
          </button>
          <Link to="/bottles" className="calm">
            Leave it as it is
          </Link>
        </div>
      </Form>
      {type && !out && mayChange && (
        <TakeOutOfUse
          summary="This bottle is filled no more"
          hint="It is offered nowhere any more. Bottles that are planned or filled stay as they are, and it can be taken into use again."
        />
      )}
    </main>
  );
}
