import { counted, formatNumber } from "../../../core/quantity/format";
import { localDate } from "../../../core/time/local";
import { dayBounds } from "../../../core/time/zone";
import { knownParameters } from "../../server/results/latest.server";
import { ledgerPage, ledgerQuerySchema } from "../../server/results/ledger.server";
import { valuesInTime } from "../../server/results/valuesInTime.server";
import { lazyPart } from "../../ui/lazyPart";
import "./ledger.css";
import { type ReactNode, useCallback, useState } from "react";
import { Link, useLoaderData, useNavigate, useSearchParams } from "react-router";
import { findImport } from "../../server/exchange/importFile.server";
import { allMeters } from "../../server/meters/meters.server";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext } from "../../server/platform/contexts.server";
import { findReading, judgementsOf } from "../../server/results/readings.server";
import { bottlesBehind } from "../../server/results/restsOn.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { allSites } from "../../server/sites/sites.server";
import { AnyEvidencePanel } from "../../ui/AnyEvidencePanel";
import { InBrowser } from "../../ui/charts/InBrowser";
import { useKey } from "../../ui/keys";
import type { Route } from "./+types/ledger";
import { columnsOf, keepColumns } from "./columns";
import { LedgerFilters } from "./LedgerFilters";
import { LedgerTable } from "./LedgerTable";
import { usualSpans } from "./spans";

const ValuesChart = lazyPart(() => import("../../ui/charts/ValuesChart"));

export const meta: Route.MetaFunction = () => [{ title: "Ledger · Brintel" }];

export async function loader({ request, url, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const query = ledgerQuerySchema.parse(
    Object.fromEntries([...url.searchParams].filter(([, v]) => v !== "")),
  );
  const { zone } = (await rulesInForce(db)).rules;
  const [page, chart, sites, meters, parameters, file] = await Promise.all([
    ledgerPage(db, query, dayBounds(zone)),
    query.chart ? valuesInTime(db, query, dayBounds(zone)) : null,
    allSites(db),
    allMeters(db),
    knownParameters(db),
    query.file ? findImport(db, query.file) : undefined,
  ]);
  const chosen = url.searchParams.get("reading");
  const reading = chosen ? ((await findReading(db, chosen)) ?? null) : null;
  return {
    ...page,
    query,
    zone,
    chart,
    spans: usualSpans(localDate(nowIso(), zone)),
    keptColumns: columnsOf(request.headers.get("Cookie")),
    sites: sites.map(({ id, name }) => ({ value: id, label: name })),
    meters: meters.map(({ id, code }) => ({ value: id, label: code })),
    // One parameter may be reported as several species; the filter takes them together.
    parameters: [...new Map(parameters.map((p) => [p.parameter, p.analyte]))].map(([value, label]) => ({
      value,
      label: label.replace(/ as .*$/, ""),
    })),
    files: query.file ? [{ value: query.file, label: file?.name ?? "No such file" }] : [],
    reading,
    judgements: reading ? await judgementsOf(db, reading.id) : [],
    behind: reading ? await bottlesBehind(db, [reading]) : {},
  };
}

/** What an address says of the page; without it, it is the first. */
const firstPage = { after: undefined, before: undefined, end: undefined };
/** As in the server's query: counting stops there. */
const countedAtMost = 10_000;

function PagerLink({ to, children }: { to: string | null; children: ReactNode }) {
  return to ? (
    <Link to={to} className="calm" preventScrollReset>
      {children}
    </Link>
  ) : (
    <span className="calm off" aria-disabled="true">
      {children}
    </span>
  );
}

export default function Ledger() {
  const {
    rows,
    total,
    atStart,
    atEnd,
    first,
    last,
    query,
    zone,
    sites,
    meters,
    parameters,
    files,
    spans,
    chart,
    keptColumns,
    reading,
    judgements,
    behind,
  } = useLoaderData<typeof loader>();
  const [columns, setColumns] = useState(keptColumns);
  const [params] = useSearchParams();
  const navigate = useNavigate();
  const withParams = useCallback(
    (changes: Record<string, string | undefined>) => {
      const next = new URLSearchParams(params);
      for (const [key, value] of Object.entries(changes)) {
        if (value) next.set(key, value);
        else next.delete(key);
      }
      return `/ledger?${next}`;
    },
    [params],
  );
  const open = useCallback(
    (id: string | undefined) => navigate(withParams({ reading: id }), { preventScrollReset: true }),
    [navigate, withParams],
  );
  const at = rows.findIndex((r) => r.id === reading?.id);
  const step = (by: number) => open(rows[Math.max(0, Math.min(rows.length - 1, at < 0 ? 0 : at + by))]?.id);
  useKey("down", "↓", "Evidence of the next reading", () => step(1));
  useKey("up", "↑", "Evidence of the reading before", () => step(-1));
  const follow = (to: string) => navigate(to, { preventScrollReset: true });
  const filters = ["site", "meter", "file", "parameter", "verdict", "kind", "from", "to", "text"].filter(
    (k) => params.get(k),
  ).length;
  const exportQuery = new URLSearchParams(
    [...params].filter(([key]) => key !== "reading" && key !== "chart" && !(key in firstPage)),
  ).toString();

  return (
    <>
      <main className="stack">
        <div className="pagehead">
          <div>
            <h1>Ledger</h1>
            <p className="sub">
              {total > countedAtMost
                ? `More than ${formatNumber(countedAtMost, 0)} readings`
                : counted(total, "reading")}
              {filters > 0 ? " as filtered" : ""}. Choose one to see what it rests on.
            </p>
          </div>
          <div className="cluster">
            <Link
              className="calm"
              to={withParams({ chart: query.chart ? undefined : "1" })}
              preventScrollReset
            >
              {query.chart ? "Without the chart" : "In a chart"}
            </Link>
            <Link className="calm" to="/imports">
              Bring in
            </Link>
            <a className="calm" href={`/ledger/export.csv?${exportQuery}`} download>
              Export as CSV
            </a>
            <a className="calm" href={`/ledger/export.json?${exportQuery}`} download>
              as JSON
            </a>
            <a className="calm" href={`/ledger/export.zip?${exportQuery}`} download>
              as a data package
            </a>
          </div>
        </div>
        <LedgerFilters
          query={query}
          options={{ sites, meters, parameters, files }}
          spans={spans}
          columns={columns}
          onColumns={(keys) => {
            setColumns(keys);
            keepColumns(keys);
          }}
          onFilter={(changes) => follow(withParams({ ...firstPage, ...changes, reading: undefined }))}
        />
        {chart && (
          <InBrowser>
            <ValuesChart chart={chart} zone={zone} onOpen={open} />
          </InBrowser>
        )}
        {query.chart && !chart && (
          <p className="note">
            {query.parameter
              ? "Nothing that is filtered has a number to draw."
              : "Choose what was measured: only one quantity can share an axis."}
          </p>
        )}
        <LedgerTable
          rows={rows}
          shown={columns}
          query={query}
          zone={zone}
          chosen={reading?.id}
          addressOf={(changes) =>
            withParams("reading" in changes && changes.reading ? changes : { ...firstPage, ...changes })
          }
          onOpen={open}
        />
        {!(atStart && atEnd) && (
          <nav className="pager cluster" aria-label="Pages of the ledger">
            <PagerLink to={atStart ? null : withParams({ ...firstPage, reading: undefined })}>
              First
            </PagerLink>
            <PagerLink
              to={atStart || !first ? null : withParams({ ...firstPage, before: first, reading: undefined })}
            >
              ← {query.order === "desc" && query.sort === "measured_at" ? "Newer" : "Before"}
            </PagerLink>
            <PagerLink
              to={atEnd || !last ? null : withParams({ ...firstPage, after: last, reading: undefined })}
            >
              {query.order === "desc" && query.sort === "measured_at" ? "Older" : "After"} →
            </PagerLink>
            <PagerLink to={atEnd ? null : withParams({ ...firstPage, end: "last", reading: undefined })}>
              Last
            </PagerLink>
          </nav>
        )}
      </main>
      {reading && (
        <AnyEvidencePanel
          reading={reading}
          judgements={judgements}
          behind={behind}
          zone={zone}
          back={withParams({ reading: undefined })}
        />
      )}
    </>
  );
}
