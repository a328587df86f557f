import { formatNumber } from "../../core/quantity/format";
import type { ReadingSource } from "../server/results/readings.server";

/** A result as it is written, without its unit; a dash where nothing is reported. */
export const showResult = (row: { shown: string | null; value: number | null; decimals: number }): string =>
  row.shown ?? (row.value === null ? "–" : formatNumber(row.value, row.decimals));

/** Where a result is shown with everything it rests on. */
export const resultHref = ({
  source,
  work_id,
  parameter,
  id,
}: {
  source: ReadingSource;
  work_id: string;
  parameter: string;
  id: string;
}): string =>
  source === "meter"
    ? `/readings/${work_id}?of=${parameter}`
    : source === "analysis"
      ? `/runs/${work_id}?of=${parameter}`
      : `/ledger?reading=${id}`;
