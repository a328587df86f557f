import type { Knex } from "knex";
import { type VisitState, visitFolding } from "../../../core/samples/visit";
import { visitClocks } from "../../../core/samples/visitClocks";
import { type VisitEvent, visitEventSchema } from "../../../core/samples/visitEvents";
import { type OpenRun, openWorks } from "../bench/openWorks.server";

/** Every visit that is open, with its running clocks. */
export const openVisits = async (db: Knex, now: string): Promise<OpenRun[]> =>
  (
    await openWorks<VisitState, VisitEvent>(db, {
      kind: "visit",
      schema: visitEventSchema,
      folding: visitFolding,
      show: (state, id) => ({
        words: state.arrived_at ? "the visit goes on" : "not there yet",
        clocks: visitClocks(state, Date.parse(now)).map(({ key, words, began, due }) => ({
          id: `${id}-${key}`,
          words,
          began,
          opens: due,
          due,
          closes: null,
        })),
      }),
    })
  ).map((visit) => ({ ...visit, title: `At ${visit.title}` }));
