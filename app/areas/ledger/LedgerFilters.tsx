import { Input, Select } from "antd";
import { Suspense, useState } from "react";
import { kindWords, resultKinds } from "../../../core/bench/resultKinds";
import { verdicts } from "../../../core/judgement/finding";
import { showDate } from "../../../core/time/words";
import type { LedgerQuery } from "../../server/results/ledger.server";
import { lazyPart } from "../../ui/lazyPart";
import type { ColumnKey } from "./columns";
import type { Span } from "./spans";

const OtherDays = lazyPart(() => import("./OtherDays"));
const ChooseColumns = lazyPart(() => import("./ChooseColumns"));

interface Option {
  value: string;
  label: string;
}

const other = "other";

/** The days that are asked for, in words. */
function spanWords({ from, to }: LedgerQuery): string {
  if (from && to)
    return from === to ? showDate(from, "short") : `${showDate(from, "short")} – ${showDate(to, "short")}`;
  return from ? `from ${showDate(from, "short")}` : `until ${showDate(to ?? "", "short")}`;
}

/** What is asked of the ledger, in one bar; every change is an address. */
export function LedgerFilters({
  query,
  options,
  spans,
  columns,
  onColumns,
  onFilter,
}: {
  query: LedgerQuery;
  options: { sites: Option[]; meters: Option[]; parameters: Option[]; files: Option[] };
  spans: readonly Span[];
  columns: readonly ColumnKey[];
  onColumns(keys: ColumnKey[]): void;
  onFilter(changes: Record<string, string | undefined>): void;
}) {
  const [asking, setAsking] = useState<"days" | "columns" | null>(null);
  const usual = spans.findIndex((s) => s.from === query.from && s.to === query.to);
  const days = [
    ...spans.map((s, i) => ({ value: String(i), label: s.label })),
    ...(usual < 0 ? [{ value: "asked", label: spanWords(query) }] : []),
    { value: other, label: "Other days …" },
  ];
  const ask = (text: string) => {
    if (text.trim() !== (query.text ?? "")) onFilter({ text });
  };
  const choose = (name: string, label: string, all: string, choices: Option[], value: string | undefined) => (
    <Select
      className={all.length > "Every site".length ? "longer" : ""}
      aria-label={label}
      placeholder={all}
      allowClear
      value={value ?? null}
      options={choices}
      popupMatchSelectWidth={false}
      onChange={(v: string | null | undefined) => onFilter({ [name]: v ?? undefined })}
    />
  );
  return (
    <>
      <search className="filters" aria-label="What is asked of the ledger">
        {choose("site", "Site", "Every site", options.sites, query.site)}
        {choose("parameter", "What was measured", "Everything", options.parameters, query.parameter)}
        {choose("meter", "Meter", "Every meter", options.meters, query.meter)}
        {/* Asked from the page of a file alone: there may be very many. */}
        {query.file && choose("file", "File", "Every file", options.files, query.file)}
        {choose(
          "verdict",
          "Verdict",
          "Every verdict",
          verdicts.map((value) => ({ value, label: value })),
          query.verdict,
        )}
        {choose(
          "kind",
          "Samples and checks",
          "All kinds",
          resultKinds.map((value) => ({ value, label: kindWords[value] })),
          query.kind,
        )}
        <Select
          className={usual < 0 ? "longest" : ""}
          aria-label="Days"
          value={usual < 0 ? "asked" : String(usual)}
          options={days}
          popupMatchSelectWidth={false}
          onChange={(v: string) => {
            if (v === other) setAsking("days");
            else if (v !== "asked") {
              const span = spans[Number(v)];
              onFilter({ from: span?.from, to: span?.to });
            }
          }}
        />
        <Input
          aria-label="Sample begins with"
          name="text"
          placeholder="Sample …"
          defaultValue={query.text ?? ""}
          key={query.text ?? ""}
          onPressEnter={(e) => ask(e.currentTarget.value)}
          onBlur={(e) => ask(e.target.value)}
        />
        <button type="button" className="calm" onClick={() => setAsking("columns")}>
          Columns
        </button>
      </search>
      <Suspense fallback={null}>
        {asking === "days" && (
          <OtherDays
            from={query.from}
            to={query.to}
            onClose={() => setAsking(null)}
            onChoose={(from, to) => {
              setAsking(null);
              onFilter({ from, to });
            }}
          />
        )}
        {asking === "columns" && (
          <ChooseColumns columns={columns} onColumns={onColumns} onClose={() => setAsking(null)} />
        )}
      </Suspense>
    </>
  );
}
