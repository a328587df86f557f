import type { Folding } from "../bench/event";
import { formatNumber } from "../quantity/format";
import { err, ok } from "../quantity/result";
import type { StandardisationEvent, StandardisationStarted } from "./standardisationEvents";
import { type Standardised, spreadLimits, standardise } from "./standardised";

/** One portion of the standard, or of water, and what it took. */
interface Portion {
  start_ml: number;
  end_ml: number;
  at: string;
  by: string;
  /** Why it does not count; empty where it does. */
  left_out: string;
}

export interface StandardisationState {
  status: "open" | "finished" | "abandoned";
  started: StandardisationStarted;
  blank: Portion | null;
  portions: Portion[];
  notes: { at: string; by: string; text: string }[];
  started_at: string;
  finished_at: string | null;
  /** Why what it found does not count; null where it does. */
  taken_out: { at: string; by: string; reason: string } | null;
}

/** So many portions are titrated at least. */
const portionsWanted = 3;
const portionsPossible = 12;

const used = ({ start_ml, end_ml }: Portion): number => end_ml - start_ml;
const counting = (state: StandardisationState): Portion[] => state.portions.filter((p) => !p.left_out);

/** What the portions amount to so far; null before the first. */
export function standardisedOf(state: StandardisationState): Standardised | null {
  const { standard, portion_ml, pipette_within_ml, burette_within_ml, place, guide } = state.started;
  return standardise(
    {
      standard: standard.strength,
      standard_ml: portion_ml,
      titrant_ml: counting(state).map(used),
      blank_ml: state.blank ? used(state.blank) : 0,
      pipette_within_ml,
      burette_within_ml,
      place,
    },
    guide.unit,
  );
}

/** How much of the standard and of the titrant went in all, mL: what was left out was used too. */
export const takenOf = (state: StandardisationState): { standard_ml: number; titrant_ml: number } => ({
  standard_ml: state.portions.length * state.started.portion_ml,
  titrant_ml: [...state.portions, ...(state.blank ? [state.blank] : [])].reduce((sum, p) => sum + used(p), 0),
});

/** What is to be done next: the blank, a portion, or an agreed strength to keep; null when it is over. */
export type NextOfStandardisation =
  | { is: "blank" }
  | { is: "portion"; number: number; because: string }
  | { is: "agree" };

export function nextOfStandardisation(state: StandardisationState): NextOfStandardisation | null {
  if (state.status !== "open") return null;
  if (state.started.guide.blank && !state.blank) return { is: "blank" };
  const number = state.portions.length + 1;
  const left = portionsWanted - counting(state).length;
  if (left > 0) return { is: "portion", number, because: "" };
  const found = standardisedOf(state);
  if (found?.accepted) return { is: "agree" };
  const limit = spreadLimits[state.started.place];
  return {
    is: "portion",
    number,
    because: found
      ? `They differ by ${formatNumber(found.spread_percent, 2)} %, more than ${limit} %: titrate one more, or leave out the one of which you know what went wrong.`
      : "A portion took no more than the blank: look at both again.",
  };
}

/** How the events of a standardisation turn into its state. */
export const standardisationFolding: Folding<StandardisationState, StandardisationEvent> = {
  inOrderOfTime: true,
  undoable: ({ type }) => type === "titrated" || type === "left-out",
  apply(state, event) {
    if (event.type === "started") {
      if (state) return err("already-started", "This was begun already.");
      return ok({
        status: "open",
        started: event,
        blank: null,
        portions: [],
        notes: [],
        started_at: event.at,
        finished_at: null,
        taken_out: null,
      });
    }
    if (!state) return err("not-started", "This was not begun.");
    if (event.type === "noted")
      return ok({ ...state, notes: [...state.notes, { at: event.at, by: event.by, text: event.text }] });
    if (event.type === "taken-out") {
      const { at, by, reason } = event;
      if (state.status !== "finished") return err("not-finished", "It has found nothing yet: give it up.");
      return state.taken_out
        ? err("taken-out", "It is taken out already.")
        : ok({ ...state, taken_out: { at, by, reason } });
    }
    if (state.status !== "open") return err("closed", "This is over. Begin a new one.");
    switch (event.type) {
      case "abandoned":
        return ok({ ...state, status: "abandoned", finished_at: event.at });
      case "titrated": {
        const { what, start_ml, end_ml, at, by } = event;
        if (end_ml <= start_ml)
          return err("backwards", "The burette reads more at the end than at the start. Read both again.");
        const portion: Portion = { start_ml, end_ml, at, by, left_out: "" };
        if (what === "blank")
          return state.blank || !state.started.guide.blank
            ? err("no-blank", "There is a blank already, or none is wanted.")
            : ok({ ...state, blank: portion });
        if (state.started.guide.blank && !state.blank) return err("blank-first", "The blank comes first.");
        if (state.portions.length >= portionsPossible)
          return err("too-many", "Twelve portions do not agree: begin anew with fresh solutions.");
        return ok({ ...state, portions: [...state.portions, portion] });
      }
      case "left-out": {
        const one = state.portions[event.portion];
        if (!one) return err("no-portion", "There is no such portion.");
        if (one.left_out) return err("left-out", "It is left out already.");
        return ok({
          ...state,
          portions: state.portions.map((p, i) =>
            i === event.portion ? { ...p, left_out: event.reason } : p,
          ),
        });
      }
      case "finished":
        return nextOfStandardisation(state)?.is === "agree"
          ? ok({ ...state, status: "finished", finished_at: event.at })
          : err("not-agreed", "The portions do not agree yet.");
    }
  },
};
