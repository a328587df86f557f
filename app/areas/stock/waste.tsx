import { useSending } from "../../ui/useSending";
import "./stock.css";
import { Select } from "antd";
import { useState } from "react";
import { data, Form, Link, useActionData, useLoaderData } from "react-router";
import { ulid } from "ulid";
import { z } from "zod";
import { readValue } from "../../../core/quantity/entry";
import { counted, formatNumber } from "../../../core/quantity/format";
import { collected, fullShare, keepApart, type WasteStream } from "../../../core/stock/waste";
import { wasteWords } from "../../../core/stock/wasteStreams";
import { showDate, showTime } from "../../../core/time/words";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { fieldErrors } from "../../server/platform/forms.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { beginContainer, containers, type Filled, giveAway } from "../../server/stock/waste.server";
import { DueMark } from "../../ui/DueMark";
import { TextField } from "../../ui/TextField";
import type { Route } from "./+types/waste";
import { Careful } from "./Careful";

export const meta: Route.MetaFunction = () => [{ title: "Waste · Brintel" }];

export async function loader({ context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const { zone } = (await rulesInForce(db)).rules;
  return { containers: await containers(db, nowIso(), zone), zone, id: ulid() };
}

const litres = z.string().transform((text, issue) => {
  const entry = readValue(text, "");
  if ("value" in entry && entry.value >= 0.05 && entry.value <= 200) return entry.value * 1000;
  issue.addIssue({
    code: "custom",
    message: "message" in entry ? entry.message : "A container holds between 0.05 and 200 L.",
  });
  return z.NEVER;
});
const beginSchema = z.object({
  id: z.ulid(),
  stream: z.enum(collected as [WasteStream, ...WasteStream[]]),
  code: z
    .string()
    .trim()
    .min(1, { error: "Write a code on the container, and here." })
    .max(24, { error: "Keep the code under 25 characters." }),
  size: litres,
});
const givenSchema = z.object({
  id: z.ulid(),
  to: z
    .string()
    .trim()
    .min(2, { error: "Say who took it." })
    .max(80, { error: "Keep it under 81 characters." }),
});

export async function action({ request, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const form = Object.fromEntries(await request.formData());
  const actor = context.get(personContext);
  const refuse = (of: string, errors: Record<string, string>) => data({ of, errors }, { status: 422 });
  if (form.do === "give") {
    const read = givenSchema.safeParse(form);
    if (!read.success) return refuse(String(form.id), fieldErrors(read.error));
    await giveAway(db, read.data.id, read.data.to, actor, nowIso());
    return null;
  }
  const read = beginSchema.safeParse(form);
  if (!read.success) return refuse("begin", fieldErrors(read.error));
  const { size, ...container } = read.data;
  const wrong = await beginContainer(db, { ...container, size_ml: size }, actor, nowIso());
  return wrong ? refuse("begin", { code: wrong }) : null;
}

/** What is in which container, and when it is full. */
export default function Waste() {
  const { containers: all, zone, id } = useLoaderData<typeof loader>();
  const inUse = all.filter((c) => c.closed_at === null);
  const gone = all.filter((c) => c.closed_at !== null);
  return (
    <main className="stack">
      <div>
        <h1>Waste</h1>
        <p className="sub">
          Reckoned from the runs that were done: the sample and every reagent of each portion.{" "}
          <Link to="/stock">Stock</Link>
        </p>
      </div>
      {inUse.map((c) => (
        <ContainerCard key={c.id} container={c} zone={zone} />
      ))}
      <Begin key={id} id={id} taken={inUse.map((c) => c.stream)} />
      <section aria-label="Careful">
        <Careful
          cautions={[
            "Pour under a hood where it smells; leave a tenth of every container empty, label it, close it.",
            "Licensed carriers decide what they take, and how.",
          ]}
          source="common practice"
        />
      </section>
      {gone.length > 0 && (
        <section className="stack close" aria-label="Given away">
          <h2>Given away</h2>
          <ul className="points">
            {gone.map((c) => (
              <li key={c.id}>
                <b className="m">{c.code}</b>, {formatNumber(c.fill.ml / 1000, 2)} L for{" "}
                {wasteWords[c.stream]}, to {c.given_to}, {c.closed_at && showTime(c.closed_at, zone, "both")}
              </li>
            ))}
          </ul>
        </section>
      )}
    </main>
  );
}

function ContainerCard({ container, zone }: { container: Filled; zone: string }) {
  const answer = useActionData<typeof action>();
  const busy = useSending();
  const { id, code, stream, size_ml, fill, from, lots } = container;
  const errors: Record<string, string> = answer?.of === id ? answer.errors : {};
  const full = fill.share >= fullShare;
  const hazards = [...new Set(from.flatMap((f) => f.hazards))];
  return (
    <section className="sheet stack close" aria-label={code}>
      <h2>
        {full && <DueMark />} <span className="m">{code}</span>
      </h2>
      <p>
        <b className="m">
          {formatNumber(fill.ml / 1000, 2)} of {formatNumber(size_ml / 1000, 1)} L
        </b>
        , {wasteWords[stream]}.{" "}
        {full
          ? "Full: change it now."
          : fill.forecast
            ? `Full about ${showDate(fill.forecast.lasts_until)} at this rate.`
            : "Nothing in it yet."}
      </p>
      <meter
        className="waste-fill"
        min={0}
        max={1}
        high={fullShare}
        value={Math.min(1, fill.share)}
        aria-label="Filled"
      >
        {formatNumber(100 * fill.share, 0)} %
      </meter>
      {from.length > 0 && (
        <ul className="points">
          {from.map((f) => (
            <li key={f.method}>
              {f.method}: {counted(f.portions, "portion")}, {formatNumber(f.ml, 0)} mL
            </li>
          ))}
          {lots.length > 0 && <li>Bottles: {lots.join(", ")}</li>}
        </ul>
      )}
      <p className="quiet small">
        {[keepApart[stream], ...hazards].join(" ")} Begun {showTime(container.begun_at, zone, "both")}.
      </p>
      <Form method="post" className="form" preventScrollReset>
        <input type="hidden" name="do" value="give" />
        <input type="hidden" name="id" value={id} />
        <TextField
          id={`to-${id}`}
          name="to"
          label="Given to"
          wrong={errors.to}
          hint="The carrier, the depot."
        />
        <div className="actions">
          <button type="submit" className={full ? "act" : "calm strong"} disabled={busy}>
            It is given away
          </button>
        </div>
      </Form>
    </section>
  );
}

function Begin({ id, taken }: { id: string; taken: readonly WasteStream[] }) {
  const answer = useActionData<typeof action>();
  const busy = useSending();
  const free = collected.filter((s) => !taken.includes(s));
  const [stream, setStream] = useState<WasteStream | undefined>(free[0]);
  const errors: Record<string, string> = answer?.of === "begin" ? answer.errors : {};
  if (!stream) return null;
  return (
    <section className="sheet" aria-label="Begin a container">
      <h2>Begin a container</h2>
      <Form method="post" className="form" preventScrollReset>
        <input type="hidden" name="id" value={id} />
        <input type="hidden" name="stream" value={stream} />
        <div className="field">
          <span className="label">For what</span>
          <Select
            aria-label="For what"
            size="large"
            style={{ width: "100%" }}
            value={stream}
            options={free.map((value) => ({ value, label: wasteWords[value] }))}
            onChange={setStream}
          />
          <p className="hint">{keepApart[stream]}</p>
        </div>
        <div className="two">
          <TextField name="code" label="Its code" wrong={errors.code} mono />
          <TextField name="size" label="It holds, L" wrong={errors.size} mono initial="5" />
        </div>
        <div className="actions">
          <button type="submit" className="act" disabled={busy}>
            Begin it
          </button>
        </div>
      </Form>
    </section>
  );
}
