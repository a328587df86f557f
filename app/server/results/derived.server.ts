import { isDeepStrictEqual } from "node:util";
import type { Knex } from "knex";
import { worstObjection } from "../../../core/judgement/finding";
import { analyteName, speciesNamed } from "../../../core/methods/methodWords";
import { standardUncertaintyOf } from "../../../core/quality/uncertainty";
import { formatNumber } from "../../../core/quantity/format";
import { derive, foundOfColumns } from "../../../core/results/derived/derive";
import type {
  DerivedEvidence,
  DerivedKind,
  DerivedSource,
} from "../../../core/results/derived/derivedEvidence";
import { judgeDerived } from "../../../core/results/derived/judgeDerived";
import { isSimulated } from "../../../core/results/rules/source";
import type { HouseRules } from "../../../core/rules/houseRules";
import type { Finishing } from "../bench/benchWork.server";
import { rulesOfVersion } from "../rules/rules.server";
import { splitEvidence, withEvidence } from "./evidenceDocument.server";
import { forgetLatest } from "./latest.server";
import {
  findReading,
  joined,
  type Reading,
  type StoredReading,
  wholeColumns,
  wholeReadings,
} from "./readings.server";
import { reportedColumns } from "./reportedValue.server";
import { waterAt, whereWaterAround } from "./waterAround";
import { judgedColumns, writeReading } from "./writeReading.server";

/** From which quantity a kind of derived result begins, and which house rule asks for it. */
interface Origin {
  kind: DerivedKind;
  role: DerivedSource["role"];
  isOrigin(reading: Reading): boolean;
  wanted(rules: HouseRules): boolean;
}

const origins: readonly Origin[] = [
  {
    kind: "free-ammonia",
    role: "ammonia",
    isOrigin: (r) => r.parameter === "ammonia" && r.unit === "mg/L",
    wanted: (rules) => rules.derived.free_ammonia,
  },
  {
    kind: "saturation",
    role: "oxygen",
    isOrigin: (r) => r.source === "meter" && r.parameter === "oxygen",
    wanted: (rules) => rules.derived.saturation,
  },
  {
    kind: "tds",
    role: "conductivity",
    isOrigin: (r) => r.source === "meter" && r.parameter === "conductivity",
    wanted: (rules) => rules.derived.tds,
  },
  {
    kind: "degrees",
    role: "hardness",
    isOrigin: (r) =>
      (r.parameter === "hardness" || r.parameter === "alkalinity") &&
      r.unit === "mg/L" &&
      speciesNamed(r.parameter, r.analyte) === "CaCO3",
    wanted: (rules) => rules.derived.degrees !== "none",
  },
];

/** Nobody calls two moments of different days one water, whatever the house rule. */
export const WIDEST_MIN = 1440;

/** A result as what derives from it keeps it. */
const asSource = (r: Reading, role: DerivedSource["role"]): DerivedSource => ({
  role,
  reading_id: r.id,
  analyte: r.analyte,
  species: speciesNamed(r.parameter, r.analyte),
  unit: r.unit,
  found: foundOfColumns(r.value, r.low, r.high),
  shown: r.shown ?? (r.value === null ? "nothing" : formatNumber(r.value, r.decimals)),
  ...(r.uncertainty === null ? {} : { u: r.uncertainty }),
  temperature_c: r.temperature_c,
  verdict: r.verdict,
  objection: worstObjection(r.findings),
  measured_at: r.measured_at,
  water_at: waterAt(r),
  ...(isSimulated(r.evidence) ? { simulated: true as const } : {}),
});

/** Whole results, such as a query chooses. */
const readings = async (
  db: Knex,
  which: (query: Knex.QueryBuilder) => Knex.QueryBuilder,
): Promise<Reading[]> => {
  const rows: StoredReading[] = await which(withEvidence(joined(db))).select(...wholeColumns(db));
  return wholeReadings(db, rows);
};

/** Results of one quantity at a site whose water was taken around a moment. */
const aroundMoment = (db: Knex, site: string, parameter: string, moment: string, within_min: number) =>
  readings(db, (query) =>
    whereWaterAround(
      query
        .where({ "readings.site_id": site, "readings.parameter": parameter })
        .whereNot("readings.verdict", "void")
        .orderBy("readings.id"),
      moment,
      within_min,
    ),
  );

/** The result of a quantity that was measured of the same water: of the same bottle before others, then the nearest, then what waited least. */
async function companion(trx: Knex, of: Reading, parameter: string, within_min: number) {
  const found = await aroundMoment(trx, of.site_id, parameter, waterAt(of), within_min);
  const apart = (r: Reading) => Math.abs(Date.parse(waterAt(r)) - Date.parse(waterAt(of)));
  const other = (r: Reading) => Number(!(of.sample_id && r.sample_id === of.sample_id));
  return found.sort(
    (a, b) => other(a) - other(b) || apart(a) - apart(b) || a.measured_at.localeCompare(b.measured_at),
  )[0];
}

async function sourcesOf(
  trx: Knex,
  { kind, role }: Origin,
  origin: Reading,
  rules: HouseRules,
): Promise<DerivedSource[]> {
  const own = asSource(origin, role);
  if (kind !== "free-ammonia") return [own];
  const ph = await companion(trx, origin, "ph", rules.derived.within_min);
  const temperature = await companion(trx, origin, "temperature", rules.derived.within_min);
  return [
    own,
    ...(ph ? [asSource(ph, "ph")] : []),
    ...(temperature ? [asSource(temperature, "temperature")] : []),
  ];
}

function constantsOf({ kind }: Origin, origin: Reading, rules: HouseRules): DerivedEvidence["constants"] {
  if (kind === "tds") return { factor: rules.conductivity.tds_factor };
  if (kind !== "saturation" || origin.source !== "meter") return {};
  const known = origin.evidence.calibration?.coefficients;
  return known?.kind === "oxygen" ? { pressure_hpa: known.pressure_hpa, salinity: known.salinity } : {};
}

const latest = (moments: readonly string[]): string => [...moments].sort().at(-1) ?? "";

/** Reckons what derives from one result, and writes it where it is new or has changed. */
async function deriveOne(trx: Knex, kind: Origin, origin: Reading, finishing: Finishing): Promise<void> {
  const { rules, version } = await rulesOfVersion(trx, origin.rules_version);
  const id = `${origin.id}-${kind.kind}`;
  const known = await findReading(trx, id);
  const before = known?.source === "derived" ? known.evidence : undefined;
  if (!before && (!kind.wanted(rules) || origin.verdict === "void")) return;
  const from = await sourcesOf(trx, kind, origin, rules);
  // What was measured of the same water and taken out since stays among what it derives from: it says why nothing is left.
  const gone = (before?.from ?? []).filter((s) => !from.some((f) => f.role === s.role));
  const missing = gone.length
    ? await readings(trx, (q) =>
        q.whereIn(
          "readings.id",
          gone.map((s) => s.reading_id),
        ),
      )
    : [];
  for (const { role, reading_id } of gone) {
    const source = missing.find((m) => m.id === reading_id);
    if (source) from.push(asSource(source, role));
  }
  const constants = constantsOf(kind, origin, rules);
  const reckoned = derive(kind.kind, from, constants, rules);
  if (!reckoned.ok && !before) return;
  const evidence: DerivedEvidence = {
    source: "derived",
    kind: kind.kind,
    collected_at: origin.collected_at,
    measured_at: latest(from.map((s) => s.measured_at)),
    finished_at: before?.finished_at ?? origin.finished_at,
    from,
    constants,
    ...(reckoned.ok
      ? reckoned.value
      : {
          result: before?.result ?? { parameter: "", analyte: "", species: "", unit: "", decimals: 0 },
          reported: null,
          working: [reckoned.error.message],
        }),
    ...(before?.voided ? { voided: before.voided } : {}),
  };
  if (
    before &&
    known?.sample === origin.sample &&
    known.sample_id === origin.sample_id &&
    isDeepStrictEqual(JSON.parse(JSON.stringify(evidence)), before)
  )
    return;
  const [kept] = await splitEvidence(trx, [evidence]);
  const { result } = evidence;
  const row = {
    id,
    work_id: origin.work_id,
    source: "derived",
    parameter: result.parameter,
    analyte: analyteName(result),
    method: `from ${from.map((s) => s.analyte.toLowerCase()).join(", ")}`,
    site_id: origin.site_id,
    meter_id: null,
    calibration_id: null,
    sample: origin.sample,
    sample_id: origin.sample_id,
    ...reportedColumns(evidence, rules),
    uncertainty: standardUncertaintyOf(evidence),
    decimals: result.decimals,
    unit: result.unit,
    temperature_c: origin.temperature_c,
    grade: null,
    check_evidence: null,
    ...judgedColumns(evidence, judgeDerived(evidence, rules), version, finishing),
  };
  await writeReading(trx, row, kept, finishing, "what it derives from has changed");
  if (row.verdict === "void") await forgetLatest(trx, row);
  await trx("derivations").where({ derived_id: id }).delete();
  await trx("derivations").insert(from.map((s) => ({ derived_id: id, source_id: s.reading_id })));
}

/** The results from which something begins that some results have a part in. */
async function originsTouched(trx: Knex, changed: readonly Reading[]): Promise<Map<string, Reading>> {
  const found = new Map(changed.map((r) => [r.id, r]));
  for (const { site_id, ...r } of changed.filter(
    (c) => c.parameter === "ph" || c.parameter === "temperature",
  ))
    for (const origin of await aroundMoment(trx, site_id, "ammonia", waterAt(r), WIDEST_MIN))
      found.set(origin.id, origin);
  return found;
}

/**
 * Follows results that came, changed, or were taken out to what derives from them: it is reckoned for the first time once all of
 * its parts are there, in whichever order they came, and anew whenever one of them changes.
 */
export async function followDerived(trx: Knex, ids: readonly string[], finishing: Finishing): Promise<void> {
  const changed = await readings(trx, (q) => q.whereIn("readings.id", [...ids]));
  const samples = changed.filter((r) => r.kind === "sample");
  for (const origin of (await originsTouched(trx, samples)).values())
    for (const kind of origins) if (kind.isOrigin(origin)) await deriveOne(trx, kind, origin, finishing);
}
