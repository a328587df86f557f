import { verdicts } from "../../../core/quality/finding";
import { counted, formatNumber } from "../../../core/quantity/format";
import { showTime } from "../../../core/time/words";
import { dayBounds } from "../../../core/time/zone";
import { knownParameters } from "../../server/latest.server";
import { ledgerPage, ledgerQuerySchema } from "../../server/ledger.server";
import "./ledger.css";
import { Input, Select, Table, type TableColumnType } from "antd";
import { type ReactNode, useCallback } from "react";
import { Form, Link, useLoaderData, useNavigate, useSearchParams } from "react-router";
import { listMeters } from "../../server/meters.server";
import { dbContext } from "../../server/platform/contexts.server";
import { findReading, judgementsOf, type ReadingRow } from "../../server/readings.server";
import { rulesInForce } from "../../server/rules.server";
import { listSites } from "../../server/sites.server";
import { AnalysisEvidencePanel } from "../../shared/AnalysisEvidence";
import { useKey } from "../../shared/keys";
import { ReadingEvidencePanel } from "../../shared/ReadingEvidence";
import { showResult } from "../../shared/results";

import { VerdictMark } from "../../shared/VerdictMark";
import type { Route } from "./+types/ledger";

export const meta: Route.MetaFunction = () => [{ title: "Ledger · Brintel" }];

export async function loader({ url, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const query = ledgerQuerySchema.parse(
    Object.fromEntries([...url.searchParams].filter(([, v]) => v !== "")),
  );
  const { zone } = (await rulesInForce(db)).rules;
  const [page, sites, meters, parameters] = await Promise.all([
    ledgerPage(db, query, dayBounds(zone)),
    listSites(db),
    listMeters(db),
    knownParameters(db),
  ]);
  const chosen = url.searchParams.get("reading");
  const reading = chosen ? ((await findReading(db, chosen)) ?? null) : null;
  return {
    ...page,
    query,
    zone,
    sites: sites.map(({ id, name }) => ({ value: id, label: name })),
    meters: meters.map(({ id, code }) => ({ value: id, label: code })),
    // One parameter may be reported as several species; the filter takes them together.
    parameters: [...new Map(parameters.map((p) => [p.parameter, p.analyte]))].map(([value, label]) => ({
      value,
      label: label.replace(/ as .*$/, ""),
    })),
    reading,
    judgements: reading ? await judgementsOf(db, reading.id) : [],
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
    reading,
    judgements,
  } = useLoaderData<typeof loader>();
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
  const filter = (name: string, value: string | undefined) =>
    submitFilter(withParams({ ...firstPage, [name]: value, reading: undefined }));
  const submitFilter = (to: string) => navigate(to, { preventScrollReset: true });
  const exportQuery = new URLSearchParams(
    [...params].filter(([key]) => key !== "reading" && !(key in firstPage)),
  ).toString();

  const columns = (
    [
      {
        key: "measured_at",
        title: "When",
        sorter: true,
        render: (_, r) => (
          <Link
            to={withParams({ reading: r.id })}
            preventScrollReset
            onClick={(e) => e.stopPropagation()}
            className="nowrap"
          >
            {showTime(r.measured_at, zone, "both")}
          </Link>
        ),
      },
      { key: "site", title: "Site", render: (_, r) => r.site },
      {
        key: "sample",
        title: "Sample",
        sorter: true,
        render: (_, r) => <span className="m">{r.sample}</span>,
      },
      {
        key: "parameter",
        title: "What",
        render: (_, r) => r.analyte,
      },
      {
        key: "value",
        title: "Value",
        sorter: true,
        align: "right" as const,
        render: (_, r) => (
          <span className="nowrap">
            <span className="m ledger-value">{showResult(r)}</span> <small className="quiet">{r.unit}</small>
          </span>
        ),
      },
      {
        key: "verdict",
        title: "Verdict",
        render: (_, r) => <VerdictMark verdict={r.verdict} word />,
      },
      { key: "meter", title: "Measured with", render: (_, r) => r.meter },
    ] satisfies TableColumnType<ReadingRow>[]
  ).map((column) => ({
    ...column,
    ...("sorter" in column
      ? {
          sortOrder:
            query.sort === column.key
              ? query.order === "asc"
                ? ("ascend" as const)
                : ("descend" as const)
              : null,
        }
      : {}),
  }));

  return (
    <>
      <main>
        <div className="pagehead">
          <div>
            <h1>Ledger</h1>
            <p className="sub">
              {total > countedAtMost
                ? `More than ${formatNumber(countedAtMost, 0)} readings`
                : counted(total, "reading")}
              {params.size > 0 ? " as filtered" : ""}. Choose one to see what it rests on.
            </p>
          </div>
          <div>
            <a className="calm" href={`/ledger/export.csv?${exportQuery}`} download>
              Export as CSV
            </a>
            <a className="calm" href={`/ledger/export.json?${exportQuery}`} download>
              as JSON
            </a>
          </div>
        </div>
        <Form
          className="filters"
          onSubmit={(event) => {
            event.preventDefault();
            const form = new FormData(event.currentTarget);
            filter("text", String(form.get("text") ?? ""));
          }}
        >
          <Select
            aria-label="Site"
            placeholder="Every site"
            allowClear
            value={query.site ?? null}
            options={sites}
            onChange={(v) => filter("site", v ?? undefined)}
          />
          <Select
            aria-label="Meter"
            placeholder="Every meter"
            allowClear
            value={query.meter ?? null}
            options={meters}
            onChange={(v) => filter("meter", v ?? undefined)}
          />
          <Select
            aria-label="What was measured"
            placeholder="Everything"
            allowClear
            value={query.parameter ?? null}
            options={parameters}
            onChange={(v) => filter("parameter", v ?? undefined)}
          />
          <Select
            aria-label="Verdict"
            placeholder="Every verdict"
            allowClear
            value={query.verdict ?? null}
            options={verdicts.map((value) => ({ value, label: value }))}
            onChange={(v) => filter("verdict", v ?? undefined)}
          />
          <Input
            aria-label="From"
            type="date"
            value={query.from ?? ""}
            onChange={(e) => filter("from", e.target.value)}
          />
          <Input
            aria-label="To"
            type="date"
            value={query.to ?? ""}
            onChange={(e) => filter("to", e.target.value)}
          />
          <Input.Search
            aria-label="Sample"
            name="text"
            placeholder="Sample begins with"
            defaultValue={query.text ?? ""}
            onSearch={(text) => filter("text", text)}
          />
        </Form>
        <Table<ReadingRow>
          className="ledger"
          rowKey="id"
          dataSource={rows}
          scroll={{ x: 640 }}
          showSorterTooltip={false}
          locale={{ emptyText: "No reading is found. Clear a filter, or take one." }}
          rowClassName={(row) => (row.id === reading?.id ? "chosen" : "")}
          onRow={(row) => ({ onClick: () => open(row.id) })}
          pagination={false}
          onChange={(_pagination, _filters, sorter) => {
            const by = Array.isArray(sorter) ? sorter[0] : sorter;
            submitFilter(
              withParams({
                ...firstPage,
                sort: by?.order ? String(by.columnKey) : undefined,
                order: by?.order === "ascend" ? "asc" : undefined,
                reading: undefined,
              }),
            );
          }}
          columns={columns}
        />
        {!(atStart && atEnd) && (
          <nav className="pager" aria-label="Pages of the ledger">
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
      {reading?.source === "meter" && (
        <ReadingEvidencePanel
          reading={reading}
          judgements={judgements}
          zone={zone}
          back={withParams({ reading: undefined })}
        />
      )}
      {reading?.source === "analysis" && (
        <AnalysisEvidencePanel
          reading={reading}
          judgements={judgements}
          zone={zone}
          back={withParams({ reading: undefined })}
        />
      )}
    </>
  );
}
