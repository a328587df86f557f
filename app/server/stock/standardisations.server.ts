import type { Knex } from "knex";
import { ulid } from "ulid";
import { formatWithUncertainty } from "../../../core/quantity/format";
import { isStandard, type Lot, lotCondition } from "../../../core/stock/lot";
import type { StandardisationStarted } from "../../../core/stock/standardisationEvents";
import { guideFor } from "../../../core/stock/standardisations";
import { type SupplyLot, servesAs, supplyKinds } from "../../../core/stock/supply";
import { showDate } from "../../../core/time/words";
import { findWork, orUnreadable, postEvents, standardisationEvents, startWork } from "../bench/bench.server";
import { newWork, type Start } from "../bench/benchWork.server";
import type { Person } from "../people/people.server";
import type { Actor } from "../platform/rights.server";
import { rejudgingOf, tryAgain } from "../results/rejudge.server";
import { followingState } from "../results/rejudgeState.server";
import { rulesInForce } from "../rules/rules.server";
import { findLot, lotsOfCodes, onShelf, type StoredLot } from "./lots.server";

type Titrant = StoredLot<SupplyLot>;
type Strong = SupplyLot & { strength: NonNullable<SupplyLot["strength"]> };

/** A titrant that may be standardised; a sentence where a lot may not. */
export async function titrantToStandardise(db: Knex, lotId: string): Promise<Titrant | string | undefined> {
  const stored = await findLot(db, lotId);
  if (!stored) return undefined;
  const { lot } = stored;
  if (isStandard(lot) || lot.kind !== "titrant") return "Only a titrant is standardised.";
  if (lot.withdrawn) return `Lot ${lot.code} is withdrawn.`;
  return lot.discarded ? `Lot ${lot.code} is thrown away.` : { ...stored, lot };
}

/** Whether a lot may be what a titrant is held against. */
function suits(lot: Lot, titrant: SupplyLot): lot is Strong {
  const { guide, any } = guideFor(titrant);
  if (isStandard(lot) || lot.strength?.unit !== guide.unit) return false;
  return any ? lot.code !== titrant.code : servesAs(lot, guide.standard);
}

/** The bottles on the shelf that a titrant may be held against, with how strong they are. */
export async function standardsForTitrant(
  db: Knex,
  titrant: SupplyLot,
  today: string,
): Promise<{ code: string; says: string }[]> {
  return (await onShelf(db, today, supplyKinds)).flatMap(({ lot, condition }) =>
    suits(lot, titrant) && condition.state === "good" && !lot.discarded
      ? [
          {
            code: lot.code,
            says: `${lot.name}: ${formatWithUncertainty(lot.strength.value, lot.strength.uncertainty)} ${lot.strength.unit}. ${condition.sentence}`,
          },
        ]
      : [],
  );
}

/** The bottle that was named for it, or why it will not do. */
export async function standardNamed(
  db: Knex,
  titrant: SupplyLot,
  code: string,
  today: string,
): Promise<StoredLot<Strong> | string> {
  if (code === "") return "Say which bottle of the standard it is held against.";
  const [stored] = await lotsOfCodes(db, [code]);
  if (!stored)
    return `No bottle ${code} is on the shelf: prepare or register it first, so that the strength can be traced.`;
  const { lot } = stored;
  if (!suits(lot, titrant)) {
    const { guide } = guideFor(titrant);
    return `${lot.code} is ${lot.name}; wanted is ${guide.standard}, with its strength in ${guide.unit}.`;
  }
  if (lot.discarded) return `${lot.code} was thrown away on ${showDate(lot.discarded.on)}. Take another.`;
  const condition = lotCondition(lot, today);
  return condition.state === "good" ? { ...stored, lot } : `${condition.sentence} Take another.`;
}

/** Begins a standardisation; both bottles are kept with their strengths of now. */
export async function startStandardisation(
  db: Knex,
  start: Start,
  titrant: Titrant,
  standard: StoredLot<Strong>,
  how: Pick<StandardisationStarted, "portion_ml" | "pipette_within_ml" | "burette_within_ml" | "place">,
): Promise<void> {
  const { version } = await rulesInForce(db);
  const plain = ({ value, uncertainty }: Strong["strength"]) => ({ value, uncertainty });
  const started: StandardisationStarted = {
    id: start.event_id,
    at: start.at,
    by: start.actor.id,
    type: "started",
    guide: guideFor(titrant.lot).guide,
    titrant: {
      lot_id: titrant.id,
      code: titrant.lot.code,
      strength: titrant.lot.strength && plain(titrant.lot.strength),
    },
    standard: { lot_id: standard.id, code: standard.lot.code, strength: plain(standard.lot.strength) },
    ...how,
  };
  const title = `${titrant.lot.name} ${titrant.lot.code}`;
  await startWork(db, start.actor, newWork("standardisation", start, version, { title }), started, start.at);
}

/** What somebody is called, also when they work here no longer. */
const nameOf = async (db: Knex, id: string): Promise<string> =>
  ((await db("people").where({ id }).first("name")) as { name: string } | undefined)?.name ?? "";

const withoutIt = (subject_id: string) => ({ kind: "strength" as const, subject_id });

/** Everything the page of one standardisation shows. */
export async function loadStandardisation(db: Knex, id: string, person: Person) {
  const work = await findWork(db, id);
  if (work?.kind !== "standardisation") throw new Response("No such standardisation", { status: 404 });
  const { rules } = await rulesInForce(db);
  const events = await standardisationEvents(db, id).catch(orUnreadable(id));
  const out = events.find((e) => e.type === "taken-out");
  return {
    work,
    person,
    zone: rules.zone,
    events,
    outBy: out ? await nameOf(db, out.by) : "",
    following: await followingState(db, withoutIt(id)),
  };
}

/**
 * Takes a standardisation out of the record that was made wrong: another bottle, another pipette. The titrant has the strength that it has
 * without it; what was titrated since is judged by that, by the re-judging that is given back, where there is something. Answers with a
 * sentence where it cannot be. Out already: nothing happens.
 */
export async function takeStandardisationOut(
  db: Knex,
  id: string,
  reason: string,
  actor: Actor,
  now: string,
): Promise<{ refused?: string; rejudging?: string }> {
  const work = await findWork(db, id);
  if (work?.kind !== "standardisation") throw new Response("No such standardisation", { status: 404 });
  const { refused } = await postEvents(
    db,
    actor,
    id,
    [{ id: ulid(), at: now, type: "taken-out", reason }],
    now,
  );
  if (refused) return refused.code === "taken-out" ? {} : { refused: refused.message };
  const job = await rejudgingOf(db, withoutIt(id));
  return job ? { rejudging: job.id } : {};
}

/** What follows of a standardisation that was taken out is tried again, where that failed. */
export const followAgain = (db: Knex, id: string, actor: Actor, now: string): Promise<string | undefined> =>
  tryAgain(db, withoutIt(id), actor, now);
