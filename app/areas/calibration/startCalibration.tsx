import "./calibration.css";
import { Input, Select } from "antd";
import { useState } from "react";
import { data, Form, Link, redirect, useActionData, useLoaderData, useNavigation } from "react-router";
import { ulid } from "ulid";
import { z } from "zod";
import { chooseBuffers } from "../../../core/calibration/bufferChoice";
import { localDate } from "../../../core/calibration/validity";
import { formatNumber } from "../../../core/quantity/format";
import { lotCondition } from "../../../core/solution/lot";
import { dbContext, personContext } from "../../server/contexts.server";
import { listLots, nominalPh } from "../../server/lots.server";
import { findMeter } from "../../server/meters.server";
import { rulesInForce } from "../../server/rules.server";
import { expectedRange } from "../../server/sites.server";
import { startCalibration } from "../../server/starts.server";
import { DueMark } from "../../shared/DueMark";
import { VerdictMark } from "../../shared/VerdictMark";
import type { Route } from "./+types/startCalibration";

/** Without any site, water of any kind may come: the middle of the scale is assumed. */
const anyWater = { low: 6.5, high: 8.5 };

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `Calibrate ${loaderData?.meter.code} · Brintel` },
];

export async function loader({ params, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const meter = await findMeter(db, params.meterId);
  if (!meter) throw new Response("No such meter", { status: 404 });
  const { rules } = await rulesInForce(db);
  const today = localDate(new Date().toISOString(), rules.zone);
  const expected = (await expectedRange(db)) ?? anyWater;
  const shelf = (await listLots(db))
    .map(({ id, lot }) => ({
      id,
      code: lot.code,
      name: lot.name,
      buffer: lot.buffer,
      ph_25: nominalPh(lot),
      opened_on: lot.opened_on ?? "9999",
      condition: lotCondition(lot, today),
    }))
    .sort((a, b) => a.ph_25 - b.ph_25 || a.opened_on.localeCompare(b.opened_on));
  const choice = chooseBuffers(
    shelf.map((lot) => ({
      lot_id: lot.id,
      buffer: lot.buffer,
      ph_25: lot.ph_25,
      good: lot.condition.state === "good",
    })),
    expected,
    { buffers: rules.ph.buffers, buffer_gap_ph: rules.ph.buffer_gap_ph },
  );
  return { meter, shelf, choice, ids: { work: ulid(), event: ulid() } };
}

const startSchema = z.object({
  work: z.ulid(),
  event: z.ulid(),
  points: z.array(z.string()).min(2, { error: "Choose at least two buffers for the line." }).max(5),
  check: z.string().nullable(),
  reason: z.string().trim().max(200),
});

export async function action({ request, params, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const meter = await findMeter(db, params.meterId);
  if (!meter) throw new Response("No such meter", { status: 404 });
  const form = await request.formData();
  const parsed = startSchema.safeParse({
    work: form.get("work"),
    event: form.get("event"),
    points: form.getAll("point").map(String).filter(Boolean),
    check: String(form.get("check") ?? "") || null,
    reason: form.get("reason") ?? "",
  });
  if (!parsed.success) return data({ message: parsed.error.issues[0]?.message ?? "" }, { status: 422 });
  const { work, event, points, check, reason } = parsed.data;
  const wanted = [
    ...points.map((id) => ({ id, role: "point" as const })),
    ...(check ? [{ id: check, role: "check" as const }] : []),
  ];
  const lots = new Map((await listLots(db)).map((stored) => [stored.id, stored]));
  const buffers = wanted.flatMap(({ id, role }) => {
    const stored = lots.get(id);
    return stored ? [{ stored, role, reason: reason || null }] : [];
  });
  if (buffers.length !== wanted.length)
    return data({ message: "One of these lots is gone. Choose again." }, { status: 422 });
  if (new Set(wanted.map((w) => w.id)).size !== wanted.length) {
    return data(
      { message: "Each bottle can be used once: the check must be another buffer than the line." },
      { status: 422 },
    );
  }
  const values = buffers.filter((b) => b.role === "point").map((b) => nominalPh(b.stored.lot));
  if (new Set(values.map((v) => v.toFixed(1))).size < 2) {
    return data({ message: "The line needs buffers of different pH." }, { status: 422 });
  }
  const now = new Date().toISOString();
  const { rules } = await rulesInForce(db);
  const today = localDate(now, rules.zone);
  const notGood = buffers.filter((b) => lotCondition(b.stored.lot, today).state !== "good");
  const withdrawn = notGood.find((b) => lotCondition(b.stored.lot, today).state === "withdrawn");
  if (withdrawn) {
    return data(
      { message: `Lot ${withdrawn.stored.lot.code} was withdrawn and cannot be used.` },
      { status: 422 },
    );
  }
  if (notGood.length && !reason) {
    const codes = notGood.map((b) => b.stored.lot.code).join(", ");
    return data(
      { message: `Lot ${codes} is past its date. Say why you use it, or choose another.` },
      { status: 422 },
    );
  }
  const start = { work_id: work, event_id: event, by: context.get(personContext).id, at: now };
  await startCalibration(db, start, meter, buffers, (await expectedRange(db)) ?? anyWater);
  return redirect(`/calibrations/${work}`);
}

export default function StartCalibration() {
  const { meter, shelf, choice, ids } = useLoaderData<typeof loader>();
  const answer = useActionData<typeof action>();
  const busy = useNavigation().state !== "idle";
  const [points, setPoints] = useState<(string | undefined)[]>(
    choice.points.length ? choice.points : [undefined, undefined],
  );
  const [check, setCheck] = useState<string | undefined>(choice.check ?? undefined);
  const [reason, setReason] = useState("");
  const byId = new Map(shelf.map((lot) => [lot.id, lot]));
  const past = [...points, check].some((id) => id && byId.get(id)?.condition.state !== "good");
  const options = shelf.map((lot) => ({
    value: lot.id,
    label: `${formatNumber(lot.ph_25, 2)} · lot ${lot.code}${lot.condition.state === "good" ? "" : ` (${lot.condition.state.replaceAll("-", " ")})`}`,
    disabled: lot.condition.state === "withdrawn",
  }));
  const setPoint = (i: number, id: string | undefined) =>
    setPoints((all) => all.map((p, k) => (k === i ? id : p)));

  return (
    <main className="narrow">
      <h1>Calibrate {meter.code}</h1>
      <p className="sub">{choice.sentence}</p>
      {shelf.length < 2 ? (
        <p className="note">
          <DueMark /> <Link to="/stock/new">Register your buffers first</Link>
        </p>
      ) : (
        <Form method="post" className="form sheet start-form">
          <input type="hidden" name="work" value={ids.work} />
          <input type="hidden" name="event" value={ids.event} />
          {points.map((id, i) => (
            <BufferChoice
              key={i}
              label={["First buffer", "Second buffer", "Third buffer"][i] ?? "Another buffer"}
              name="point"
              id={id}
              options={options}
              onChange={(next) => setPoint(i, next)}
              lot={id ? byId.get(id) : undefined}
            />
          ))}
          {points.length < 3 && (
            <button
              type="button"
              className="calm add-buffer"
              onClick={() => setPoints((all) => [...all, undefined])}
            >
              Add a third buffer
            </button>
          )}
          <BufferChoice
            label="Check buffer, not adjusted"
            name="check"
            id={check}
            options={options}
            onChange={setCheck}
            clearable
            lot={check ? byId.get(check) : undefined}
          />
          {past && (
            <div className="field">
              <label htmlFor="reason">Why do you use a lot past its date?</label>
              <Input
                id="reason"
                name="reason"
                size="large"
                value={reason}
                onChange={(e) => setReason(e.target.value)}
              />
              <div className="hint">Every reading with this calibration will carry the note.</div>
            </div>
          )}
          {answer?.message && (
            <p className="wrong" role="alert">
              {answer.message}
            </p>
          )}
          <div className="actions">
            <button type="submit" className="act" disabled={busy} autoFocus>
              Start <kbd>enter</kbd>
            </button>
          </div>
        </Form>
      )}
      <p className="note">
        <DueMark />
        <span>
          Pour a fresh portion of each buffer and let them stand together until they have the same
          temperature. Never pour back. Do not wipe the glass, blot it.
        </span>
      </p>
    </main>
  );
}

interface ShelfLot {
  condition: { state: string; sentence: string };
}

function BufferChoice({
  label,
  name,
  id,
  options,
  onChange,
  lot,
  clearable = false,
}: {
  label: string;
  name: string;
  id: string | undefined;
  options: { value: string; label: string; disabled: boolean }[];
  onChange(id: string | undefined): void;
  lot: ShelfLot | undefined;
  clearable?: boolean;
}) {
  return (
    <div className="field">
      <span className="label">{label}</span>
      <input type="hidden" name={name} value={id ?? ""} />
      <Select
        aria-label={label}
        size="large"
        style={{ width: "100%" }}
        placeholder="Choose a bottle"
        value={id ?? null}
        options={options}
        allowClear={clearable}
        onChange={(next: string | null | undefined) => onChange(next ?? undefined)}
      />
      <div className="hint">
        {lot && (
          <>
            <VerdictMark verdict={lot.condition.state === "good" ? "sound" : "qualified"} size={13} />{" "}
            {lot.condition.sentence}
          </>
        )}
      </div>
    </div>
  );
}
