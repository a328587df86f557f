import { Link } from "react-router";
import { counted } from "../../../core/quantity/format";
import { showTime } from "../../../core/time/words";
import type { JournalLine } from "../../server/upkeep/journalPage.server";

const show = (value: unknown): string =>
  value === null || value === undefined
    ? "–"
    : typeof value === "object"
      ? JSON.stringify(value)
      : String(value);

/** Where the thing is that an entry is about, when it has a page. */
const pages: Record<string, (id: string) => string> = {
  reading: (id) => `/records/${id}`,
  lot: (id) => `/stock/${id}`,
  meter: (id) => `/meters/${id}`,
  site: (id) => `/sites/${id}`,
  method: (id) => `/methods/${id}`,
};

/** One entry: when, who, what; what was before and after, folded away until it is wanted. */
export function EntryLine({ line, zone, aboutHref }: { line: JournalLine; zone: string; aboutHref: string }) {
  const names = [...new Set([...Object.keys(line.before ?? {}), ...Object.keys(line.after ?? {})])];
  const page = pages[line.subject_kind]?.(line.subject_id);
  return (
    <li>
      <details>
        <summary>
          <span className="m entry-seq">{line.seq}</span>
          <span className="entry-when m">{showTime(line.at, zone, "both")}</span>
          <span>
            <b>{line.action === "bench" ? `bench work, ${counted(line.events, "event")}` : line.action}</b>
            {line.reason && <span className="quiet">: {line.reason}</span>}
          </span>
          <span className="quiet entry-by">{line.by}</span>
        </summary>
        <dl className="rows entry-facts">
          <div>
            <dt>About</dt>
            <dd>
              {line.subject_kind} <span className="m">{line.subject_id}</span>
              <span className="entry-links">
                {page && <Link to={page}>Its page</Link>}
                {line.subject_kind !== "bench-work" && <Link to={aboutHref}>All entries about it</Link>}
              </span>
            </dd>
          </div>
          {names.map((name) => (
            <div key={name}>
              <dt>{name || "value"}</dt>
              <dd className="m">
                {line.before && name in line.before ? `${show(line.before[name])} → ` : ""}
                {show(line.after?.[name])}
              </dd>
            </div>
          ))}
          <div>
            <dt>Hash</dt>
            <dd className="m">{line.hash}</dd>
          </div>
        </dl>
      </details>
    </li>
  );
}
