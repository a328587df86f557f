import type { Knex } from "knex";
import { z } from "zod";
import { kitNeed, supplies, withKit } from "../../../core/methods/kitted";
import type { Method } from "../../../core/methods/method";
import { namedMaterials } from "../../../core/methods/methodWords";
import { formatWithUncertainty } from "../../../core/quantity/format";
import type { RunLot, RunStarted } from "../../../core/runs/runEvents";
import { type DayStandard, tooWeakFor } from "../../../core/runs/techniques/dayCurve";
import { isStandard, type Lot, lotCondition } from "../../../core/stock/lot";
import { type SupplyLot, servesAs } from "../../../core/stock/supply";
import { showDate } from "../../../core/time/words";
import type { FieldErrors } from "../platform/forms.server";
import type { Actor } from "../platform/rights.server";
import { changeLot, lotsOfCodes, lotsOfIds, type StoredLot } from "./lots.server";

/** What the bottles on the bench make of a method: who they are, and what of the method is theirs. */
export interface InHand {
  lots: RunLot[];
  /** The method as its kit leads it. */
  method: Method;
  kit: RunStarted["kit"];
  strength: { value: number; uncertainty: number } | null;
  errors: FieldErrors;
  /** Those that are opened by this. */
  closed: StoredLot[];
}

type Material = Method["materials"][number];

/** What somebody wrote or scanned for one material. */
interface Named {
  material: Material;
  code: string;
  expires_on: string | null;
  reason: string | null;
  stored: StoredLot | undefined;
}

const fieldOf = (material: Material) => `lot-${material.key}`;

/** Whether a lot may be what a material of a method asks for: by its name, or as a kit of the method that has everything in it. */
export const fits = (
  lot: Lot,
  method: Pick<Method, "id">,
  material: Pick<Material, "name">,
): lot is SupplyLot =>
  !isStandard(lot) &&
  (servesAs(lot, material.name) || (lot.kit?.method === method.id && lot.serves.length === 0));

/** What somebody wrote for every material of a method whose lot is named, with the lots of the shelf that bear these codes. */
async function namedIn(db: Knex, method: Method, form: FormData): Promise<Named[]> {
  const text = (name: string) => String(form.get(name) ?? "").trim();
  const materials = namedMaterials(method, text("curve") !== "");
  const codes = materials.flatMap((m) => text(fieldOf(m)) || []);
  const scanned = codes.filter((c) => z.ulid().safeParse(c).success);
  const known = [...(await lotsOfCodes(db, codes)), ...(await lotsOfIds(db, scanned))];
  return materials.flatMap((material) => {
    const code = text(fieldOf(material));
    if (!code) return [];
    const stored = known.find((s) => s.id === code || s.lot.code.toLowerCase() === code.toLowerCase());
    return [
      {
        material,
        code: stored?.lot.code ?? code,
        expires_on: stored?.lot.expires_on ?? (text(`expires-${material.key}`) || null),
        reason: text(`reason-${material.key}`) || null,
        stored,
      },
    ];
  });
}

/** Why a bottle cannot be taken as it is; null when it can. */
function objection({ material, code, expires_on, reason, stored }: Named, method: Method, today: string) {
  if (code.length > 24) return "Keep the lot's code under 25 characters.";
  if (reason && reason.length > 200) return "Keep the reason under 201 characters.";
  if (!stored) {
    if (expires_on && !z.iso.date().safeParse(expires_on).success) return "Give the date as year-month-day.";
    return expires_on && expires_on < today && !reason
      ? "This lot has expired. Take another, or say why you use it all the same."
      : null;
  }
  const { lot } = stored;
  const { state, sentence } = lotCondition(lot, today);
  if (state === "withdrawn") return `${sentence} Take another.`;
  if (lot.discarded) return `It was thrown away on ${showDate(lot.discarded.on)}. Take another.`;
  if (!fits(lot, method, material))
    return reason
      ? null
      : `On the shelf, ${lot.code} is ${lot.name}. Look at the bottle again, or say why the code is right.`;
  return state === "good" || reason ? null : `${sentence} Take another, or say why you use it all the same.`;
}

/** In which unit a method reckons with its titrant; null where it has none. */
const strengthUnit = ({ measure }: Method): "N" | "mg/mL" | null =>
  measure.technique === "burette"
    ? measure.formula === "hardness"
      ? "mg/mL"
      : "N"
    : measure.technique === "ph-endpoint"
      ? "N"
      : null;

/** What a titrant gives a run, in words. */
export const strengthGiven = ({ value, uncertainty, unit }: NonNullable<SupplyLot["strength"]>): string =>
  `strength ${formatWithUncertainty(value, uncertainty)} ${unit}`;

/**
 * Reads the bottles that were named for a run and takes from them what is theirs: a titrant's strength, a kit's scale, table,
 * factor, waits. Refusals stand at their material.
 */
export async function lotsInHand(
  db: Knex,
  method: Method,
  form: FormData,
  today: string,
  curve: readonly DayStandard[] | null = null,
): Promise<InHand> {
  const errors: FieldErrors = {};
  const named = await namedIn(db, method, form);
  for (const one of named) {
    const wrong = objection(one, method, today);
    if (wrong) errors[fieldOf(one.material)] = wrong;
  }
  const unit = strengthUnit(method);
  let [led, kit, strength]: [Method, InHand["kit"], InHand["strength"]] = [method, null, null];
  const gives = new Map<string, string[]>();
  for (const { material, stored } of named) {
    if (!stored || isStandard(stored.lot)) continue;
    const { lot } = stored;
    if (material.for_curve && lot.strength) {
      const weak = curve && tooWeakFor(curve, method.result, lot.strength);
      if (weak) errors[fieldOf(material)] = weak;
      gives.set(material.key, [strengthGiven(lot.strength)]);
    }
    if (lot.kind === "titrant" && lot.strength && unit && fits(lot, method, material)) {
      if (lot.strength.unit !== unit)
        errors[fieldOf(material)] =
          `Its strength is in ${lot.strength.unit}; this method reckons in ${unit}.`;
      strength = lot.strength;
      gives.set(material.key, [strengthGiven(lot.strength)]);
    }
    if (lot.kit?.method === method.id && !kit) {
      const kitted = withKit(method, lot.kit);
      if (!kitted.ok) {
        errors[fieldOf(material)] = kitted.error.message;
        continue;
      }
      led = kitted.value;
      const complete = supplies(method, lot.kit);
      kit = { lot_id: stored.id, code: lot.code, source: lot.kit.source, complete };
      gives.set(material.key, [
        ...(complete ? [kitNeed(method) ?? []].flat() : []),
        ...(lot.kit.program ? [`program ${lot.kit.program}`] : []),
      ]);
    }
  }
  return {
    method: led,
    kit,
    strength,
    errors,
    closed: named.flatMap(({ stored }) => (stored && !stored.lot.opened_on ? [stored] : [])),
    lots: named.map(({ material, code, expires_on, reason, stored }) => ({
      material: material.key,
      name: material.name,
      code,
      expires_on,
      reason,
      lot_id: stored?.id ?? null,
      gives: gives.get(material.key) ?? [],
    })),
  };
}

/** What is used is open from that day on. */
export async function openLots(
  db: Knex,
  closed: readonly StoredLot[],
  today: string,
  actor: Actor,
  now: string,
): Promise<void> {
  for (const { id } of closed) {
    const open = (lot: Lot): Lot => ({ ...lot, opened_on: lot.opened_on ?? today });
    await changeLot(db, id, open, actor, now, "opened for a test");
  }
}
