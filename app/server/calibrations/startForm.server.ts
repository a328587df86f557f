import type { Knex } from "knex";
import { z } from "zod";
import { channelOf } from "../../../core/bench/meter";
import { type Conditions, conditionsSchema, stationRoles } from "../../../core/calibration/planned";
import {
  calibrationOrder,
  type ProposedCalibration,
  proposeCalibration,
  proposeCheck,
} from "../../../core/calibration/standardChoice";
import { understandPressure } from "../../../core/calibration/stationPressureGuard";
import { readValue } from "../../../core/quantity/entry";
import { type Measurand, measurands } from "../../../core/quantity/measurand";
import type { Unit } from "../../../core/quantity/unit";
import { lotCondition } from "../../../core/stock/lot";
import { standardFacts } from "../../../core/stock/standard";
import { localDate } from "../../../core/time/local";
import type { Meter } from "../meters/meters.server";
import type { FieldErrors } from "../platform/forms.server";
import { rulesInForce } from "../rules/rules.server";
import { expectedOverall, sitesInUse } from "../sites/sites.server";
import { standardShelf, standardsOfIds } from "../stock/standards.server";
import { meterHistory } from "./calibrations.server";
import type { ChosenStation } from "./startWork.server";

export interface StartShelfLot {
  id: string;
  kind: string;
  code: string;
  label: string;
  state: "good" | "expired" | "open-too-long" | "withdrawn";
  sentence: string;
}

/** Everything the start of a calibration or a check proposes for a meter. */
export async function proposeStart(db: Knex, meter: Meter, purpose: "calibration" | "check", now: string) {
  const { rules } = await rulesInForce(db);
  const sites = await sitesInUse(db);
  const [history, bottles] = await Promise.all([
    meterHistory(db, meter, now),
    standardShelf(db, localDate(now, rules.zone)),
  ]);
  const expected = expectedOverall(sites);
  const shelfLots = bottles.map(({ id, lot, nominal, condition, portions_left }) => ({
    lot_id: id,
    kind: lot.kind,
    material: lot.material,
    nominal,
    good: condition.state === "good" && portions_left !== 0,
  }));
  const proposals = calibrationOrder.flatMap((measurand): ProposedCalibration[] => {
    const channel = channelOf(meter, measurand);
    if (!channel) return [];
    const proposal = { channel, expected: expected[measurand] ?? null, history, now, rules };
    const proposed =
      purpose === "check" ? proposeCheck(shelfLots, proposal) : proposeCalibration(shelfLots, proposal);
    return proposed ? [proposed] : [];
  });
  const lots: StartShelfLot[] = bottles.map(({ id, lot, nominal, condition, portions_left }) => ({
    id,
    kind: lot.kind,
    code: lot.code,
    label: `${lot.kind === "zero-oxygen" ? lot.name : `${nominal.toFixed(standardFacts[lot.kind].decimals)} ${lot.kind === "ph-buffer" ? "" : standardFacts[lot.kind].unit}`.trim()} · lot ${lot.code}${condition.state === "good" ? "" : ` (${condition.state.replaceAll("-", " ")})`}${portions_left === 0 ? " (empty)" : ""}`,
    state: condition.state,
    sentence:
      condition.sentence +
      (portions_left !== null && portions_left <= 3 ? ` ${portions_left} portions left.` : ""),
  }));
  return {
    proposals,
    lots,
    altitude_m: sites.find((s) => s.altitude_m !== null)?.altitude_m ?? null,
    rules: { warm_up_min: rules.oxygen.warm_up_min },
  };
}

const stationSchema = z.object({
  measurand: z.enum(measurands),
  role: z.enum(stationRoles),
  lot: z.string(),
});

const startSchema = z.object({
  work: z.ulid(),
  event: z.ulid(),
  moment: z.enum(["opening", "interim", "closing"]).nullable(),
  stations: z.array(stationSchema).min(1, { error: "Choose what to calibrate." }).max(40),
  reason: z.string().trim().max(200),
});

export interface ReadStart {
  work: string;
  event: string;
  moment: "opening" | "interim" | "closing" | null;
  chosen: ChosenStation[];
  conditions: Conditions | null;
}

/** Reads the form that starts a calibration or a check; what is wrong comes back with its place. */
export async function readStartForm(
  db: Knex,
  meter: Meter,
  form: FormData,
  now: string,
): Promise<{ start: ReadStart } | { errors: FieldErrors }> {
  const stations = form.getAll("station").map((text) => {
    const [measurand, role, lot = ""] = String(text).split("|");
    return { measurand, role, lot };
  });
  const moment = form.get("moment");
  const parsed = startSchema.safeParse({
    work: form.get("work"),
    event: form.get("event"),
    moment: moment === "" || moment === null ? null : moment,
    stations: stations.filter((s) => s.lot !== "leave-out"),
    reason: form.get("reason") ?? "",
  });
  if (!parsed.success) return { errors: { form: parsed.error.issues[0]?.message ?? "" } };
  const { rules } = await rulesInForce(db);
  const chosen = await chooseLots(db, meter, parsed.data, localDate(now, rules.zone), rules.ph.buffers);
  if ("errors" in chosen) return chosen;
  const conditions = chosen.stations.some((s) => s.measurand === "oxygen") ? readConditions(form) : null;
  if (conditions && "errors" in conditions) return conditions;
  const { work, event } = parsed.data;
  return {
    start: {
      work,
      event,
      moment: parsed.data.moment,
      chosen: chosen.stations,
      conditions: conditions?.value ?? null,
    },
  };
}

/** The bottles of the steps: known, of the right kind, used once, in date or with a reason, never withdrawn. */
async function chooseLots(
  db: Knex,
  meter: Meter,
  { stations, reason }: z.output<typeof startSchema>,
  today: string,
  buffers: number,
): Promise<{ stations: ChosenStation[] } | { errors: FieldErrors }> {
  const refuse = (message: string) => ({ errors: { form: message } });
  const lots = new Map(
    (
      await standardsOfIds(
        db,
        stations.flatMap((s) => s.lot ?? []),
      )
    ).map((stored) => [stored.id, stored]),
  );
  const needsLot = (s: (typeof stations)[number]) =>
    s.role !== "blank" && s.role !== "span" && s.measurand !== "temperature" && s.measurand !== "volume";
  const chosen: ChosenStation[] = [];
  for (const station of stations) {
    if (!channelOf(meter, station.measurand)) return refuse(`${meter.code} does not measure that.`);
    const stored = station.lot ? lots.get(station.lot) : undefined;
    if (station.lot && !stored) return refuse("One of these lots is gone. Choose again.");
    if (needsLot(station) && !stored) return refuse("Choose a bottle for every step.");
    if (stored && standardFacts[stored.lot.kind].measurand !== station.measurand) {
      return refuse(`Lot ${stored.lot.code} is not a standard for this step.`);
    }
    chosen.push({ ...station, stored: needsLot(station) ? (stored ?? null) : null, reason: reason || null });
  }
  const used = chosen.flatMap((c) => (c.stored && c.measurand === "ph" ? [c.stored.id] : []));
  if (new Set(used).size !== used.length) {
    return refuse("Each bottle can be used once: the check must be another buffer than the line.");
  }
  const line = chosen.filter((c) => c.measurand === "ph" && c.role === "point");
  const values = new Set(
    line.map((c) => c.stored?.lot.table.find((r) => r.temperature_c === 25)?.value.toFixed(1)),
  );
  const needed = buffers === 1 ? 1 : 2;
  if (line.length && line.length < needed) return refuse("Choose at least two buffers for the line.");
  if (line.length > 1 && values.size < 2) return refuse("The line needs buffers of different pH.");
  const conditions = chosen.flatMap((c) =>
    c.stored ? [{ lot: c.stored.lot, ...lotCondition(c.stored.lot, today) }] : [],
  );
  const withdrawn = conditions.find((c) => c.state === "withdrawn");
  if (withdrawn) return refuse(`Lot ${withdrawn.lot.code} was withdrawn and cannot be used.`);
  const past = conditions.filter((c) => c.state !== "good");
  if (past.length && !reason) {
    const codes = [...new Set(past.map((c) => c.lot.code))].join(", ");
    return refuse(`Lot ${codes} is past its date. Say why you use it, or choose another.`);
  }
  return { stations: chosen };
}

/** A number as people type it, with its unit understood; a sentence when it is none. */
function typedNumber(form: FormData, name: string, unit: Unit): { value: number } | { message: string } {
  return readValue(String(form.get(name) ?? ""), unit);
}

/** The air an oxygen calibration depends on; a pressure of the wrong kind is caught with the size of its error. */
function readConditions(form: FormData): { value: Conditions } | { errors: FieldErrors } {
  const errors: FieldErrors = {};
  const pressure = typedNumber(form, "pressure", "hPa");
  const altitude = typedNumber(form, "altitude", "m");
  const salinityText = String(form.get("salinity") ?? "").trim();
  const salinity = salinityText === "" ? { value: 0 } : readValue(salinityText, "");
  const kind = form.get("pressure_kind") === "sea-level" ? ("sea-level" as const) : ("station" as const);
  if ("message" in pressure) errors.pressure = pressure.message;
  if ("message" in altitude) errors.altitude = altitude.message;
  if ("message" in salinity) errors.salinity = salinity.message;
  else if (!(salinity.value >= 0 && salinity.value <= 42)) errors.salinity = "Salinity runs from 0 to 42.";
  if ("message" in pressure || "message" in altitude || "message" in salinity || errors.salinity)
    return { errors };
  const understood = understandPressure(pressure.value, kind, altitude.value);
  if (understood.slip) return { errors: { pressure: understood.sentence } };
  const parsed = conditionsSchema.safeParse({
    pressure_hpa: understood.station_hpa,
    pressure_typed_hpa: pressure.value,
    pressure_kind: kind,
    altitude_m: altitude.value,
    salinity: salinity.value,
    salinity_known: salinityText !== "",
  });
  return parsed.success
    ? { value: parsed.data }
    : { errors: { pressure: "This pressure does not occur anywhere." } };
}

/** Which measurands a start page begins with: those asked for in the address, otherwise what a day needs. */
export function chosenAtStart(asked: string | null, proposals: readonly ProposedCalibration[]): Measurand[] {
  const all = proposals.map((p) => p.measurand);
  const wanted = (asked ?? "").split(",").filter((m): m is Measurand => (all as string[]).includes(m));
  if (wanted.length) return wanted;
  const daily = all.filter((m) => m === "ph" || m === "conductivity" || m === "oxygen" || m === "redox");
  const possible = daily.filter((m) => proposals.find((p) => p.measurand === m)?.possible);
  return possible.length ? possible : daily.length ? daily : all;
}
