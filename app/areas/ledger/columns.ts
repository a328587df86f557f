import type { LedgerQuery } from "../../server/results/ledger.server";

export interface LedgerColumn {
  key: string;
  title: string;
  /** What the ledger can be sorted by, when it can be sorted by this column. */
  sort?: LedgerQuery["sort"];
  /** Whether nobody can do without it. */
  fixed?: true;
  /** Whether it is only shown when somebody chose it. */
  extra?: true;
}

/** The columns of the ledger in their order. */
export const ledgerColumns = [
  { key: "when", title: "When", sort: "measured_at", fixed: true },
  { key: "site", title: "Site" },
  { key: "sample", title: "Sample", sort: "sample" },
  { key: "what", title: "What" },
  { key: "value", title: "Value", sort: "value", fixed: true },
  { key: "verdict", title: "Verdict", fixed: true },
  { key: "with", title: "Measured with" },
  { key: "by", title: "By", extra: true },
  { key: "temperature", title: "Temperature", extra: true },
  { key: "finished", title: "Finished", extra: true },
] as const satisfies LedgerColumn[];
export type ColumnKey = (typeof ledgerColumns)[number]["key"];

const columns: readonly LedgerColumn[] = ledgerColumns;

/** What is shown until somebody chooses. */
export const usualColumns = columns.filter((c) => !c.extra).map((c) => c.key as ColumnKey);

const cookieName = "brintel-ledger-columns";

/** The columns a browser's cookie asks for, in the ledger's own order; the usual ones without it. */
export function columnsOf(cookies: string | null): ColumnKey[] {
  const kept = new RegExp(`(?:^|; ?)${cookieName}=([a-z.]*)`).exec(cookies ?? "")?.[1];
  if (kept === undefined) return usualColumns;
  const asked = new Set(kept.split("."));
  return columns.filter((c) => c.fixed || asked.has(c.key)).map((c) => c.key as ColumnKey);
}

/** Keeps the choice in this browser for a year. */
export function keepColumns(keys: readonly ColumnKey[]): void {
  // biome-ignore lint/suspicious/noDocumentCookie: the cookie store is not in every browser yet
  document.cookie = `${cookieName}=${keys.join(".")}; path=/; max-age=31536000; samesite=lax`;
}
