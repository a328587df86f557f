import type { VisitLine } from "../server/visits/visits.server";

/** How a visit went, in a few words. */
export const visitWords = ({ status, missing }: Pick<VisitLine, "status" | "missing">): string => {
  if (status === "open") return "under way";
  if (status === "abandoned") return "given up";
  return missing.length === 0 ? "everything done" : `not done: ${missing.join(", ")}`;
};
