import type { ReadingSource } from "../server/results/readings.server";

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
