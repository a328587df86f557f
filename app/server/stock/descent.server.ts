import type { Knex } from "knex";
import { deepest, descentOf, type Edge, type Kin } from "../../../core/stock/descent";
import type { Lot } from "../../../core/stock/lot";

type Row = { from: string; id: string; code: string; document: string; withdrawn_since: string | null } & {
  role: string;
  at: string;
};

/** What lots were made from (`up`), or what was made from them, level by level: one query a level for all of them. */
async function edgesFrom(db: Knex, ids: readonly string[], way: "up" | "down"): Promise<Edge[]> {
  const [here, there] =
    way === "up" ? (["into_lot_id", "lot_id"] as const) : (["lot_id", "into_lot_id"] as const);
  const edges: Edge[] = [];
  let level = [...new Set(ids)];
  const seen = new Set(level);
  for (let depth = 0; depth < deepest && level.length; depth++) {
    const rows: Row[] = await db("lot_uses as u")
      .join("lots as l", "l.id", `u.${there}`)
      .whereIn(`u.${here}`, level)
      .orderBy("l.code")
      .select(`u.${here} as from`, "l.id", "l.code", "l.document", "l.withdrawn_since", "u.role", "u.at");
    for (const { document, withdrawn_since, role, ...row } of rows) {
      edges.push({
        ...row,
        name: (JSON.parse(document) as Lot).name,
        withdrawn: withdrawn_since !== null,
        how: role === "standardisation" ? "standardised" : "made",
      });
    }
    level = [...new Set(rows.map((e) => e.id))].filter((next) => !seen.has(next));
    for (const next of level) seen.add(next);
  }
  return edges;
}

/** After every use there is. */
const latest = "9999";

/** What a lot rests on by its latest standardisation, and all that rests on it. */
export const familyOf = async (db: Knex, id: string): Promise<{ parents: Kin[]; children: Kin[] }> => ({
  parents: descentOf(await edgesFrom(db, [id], "up"), id, "up", latest),
  children: descentOf(await edgesFrom(db, [id], "down"), id, "down", latest),
});

/** What each of some lots rested on when it was used; lots that were bought are not in it. */
export async function madeFrom(db: Knex, ids: readonly string[], at: string): Promise<Record<string, Kin[]>> {
  const edges = await edgesFrom(db, ids, "up");
  return Object.fromEntries(
    [...new Set(ids)]
      .map((id) => [id, descentOf(edges, id, "up", at)] as const)
      .filter(([, kin]) => kin.length > 0),
  );
}
