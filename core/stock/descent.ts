/** A lot in the tree of what rests on what. */
export interface Kin {
  id: string;
  code: string;
  name: string;
  withdrawn: boolean;
  /** Whether it went in, or was what a strength was measured against. */
  how: "made" | "standardised";
  kin: Kin[];
}

/** One use of a lot that went into another, with the lot at the far end. */
export interface Edge {
  from: string;
  id: string;
  code: string;
  name: string;
  withdrawn: boolean;
  how: Kin["how"];
  at: string;
}

/** How deep a tree is drawn; a solution made of a solution made of a solution is already rare. */
export const deepest = 6;

/**
 * The tree below a lot, each lot once in a place. Upwards only the standardisation in force at a moment counts: the one
 * before gave a strength that is not used any more.
 */
export function descentOf(edges: readonly Edge[], id: string, way: "up" | "down", at: string): Kin[] {
  const inForce = (e: Edge): boolean =>
    e.how === "made" ||
    way === "down" ||
    (e.at <= at &&
      !edges.some((o) => o.from === e.from && o.how === "standardised" && o.at > e.at && o.at <= at));
  const counted = edges.filter(inForce);
  const below = (from: string, depth: number): Kin[] => {
    if (depth === 0) return [];
    const own = new Map(counted.filter((e) => e.from === from).map((e) => [`${e.id} ${e.how}`, e]));
    return [...own.values()].map((e) => ({
      id: e.id,
      code: e.code,
      name: e.name,
      withdrawn: e.withdrawn,
      how: e.how,
      kin: below(e.id, depth - 1),
    }));
  };
  return below(id, deepest);
}
