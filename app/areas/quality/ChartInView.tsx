import { useCallback, useEffect, useMemo, useState } from "react";
import { useLocation } from "react-router";
import { type Verdict, verdicts } from "../../../core/judgement/finding";
import type { ChartLimits } from "../../../core/quality/controlChart";
import { type Stretch, stretched, thinned } from "../../../core/quality/thinned";
import { counted } from "../../../core/quantity/format";
import { InBrowser } from "../../ui/charts/InBrowser";
import { lazyPart } from "../../ui/lazyPart";
import type { PointColumns } from "./chartPoints";

const ControlChart = lazyPart(() => import("../../ui/charts/ControlChart"));

const moves = [
  { how: "closer", label: "Closer", key: "+" },
  { how: "wider", label: "Wider", key: "-" },
  { how: "earlier", label: "Earlier", key: "ArrowLeft" },
  { how: "later", label: "Later", key: "ArrowRight" },
  { how: "all", label: "All", key: "0" },
] as const;
const signs: Record<string, string> = { ArrowLeft: "←", ArrowRight: "→", "-": "−" };

/** Fewer points than this need no closer look. */
const worthMoving = 40;

/** So many stretches of a long chart are drawn by their lowest and highest. */
const stretches = 150;

/** What is drawn of a stretch: its extremes, what is not sound, what signals; and how many there are of each verdict. */
function inView(columns: PointColumns, from: number, to: number) {
  const signals = columns.signals.filter((s) => s.index >= from && s.index < to);
  const signalled = new Set(signals.map((s) => s.index));
  const verdictAt = (i: number): Verdict => verdicts[columns.verdicts[i] ?? 0] ?? "sound";
  const counts: Partial<Record<Verdict, number>> = {};
  for (let i = from; i < to; i++) counts[verdictAt(i)] = (counts[verdictAt(i)] ?? 0) + 1;
  const points = thinned(
    columns.values.slice(from, to),
    stretches,
    (i) => columns.verdicts[from + i] !== 0 || signalled.has(from + i),
  ).map((i) => ({
    id: columns.ids[from + i] ?? "",
    measured_at: columns.at[from + i] ?? "",
    value: columns.values[from + i] ?? Number.NaN,
    verdict: verdictAt(from + i),
    no: from + i + 1,
  }));
  return {
    points,
    counts,
    signals: signals.map(({ index, rule }) => ({ id: columns.ids[index] ?? "", rule })),
  };
}

/** The chart of a control with the stretch in view, moved by finger and by keys; its points come after the page. */
export function ChartInView(props: {
  limits: ChartLimits | null;
  unit: string;
  decimals: number;
  zone: string;
  onOpen(id: string): void;
}) {
  const { search } = useLocation();
  const [columns, setColumns] = useState<PointColumns | null>(null);
  const [view, setView] = useState<Stretch | null>(null);
  useEffect(() => {
    const asked = new AbortController();
    fetch(`/quality/points${search}`, { signal: asked.signal })
      .then((answer) => (answer.ok ? answer.json() : null))
      .then(setColumns)
      // A page that is left, or a server that is away: the table below holds the newest all the same.
      .catch(() => undefined);
    return () => asked.abort();
  }, [search]);
  const count = columns?.ids.length ?? 0;
  const { from, to } = view ?? { from: 0, to: count };
  const move = useCallback(
    (how: (typeof moves)[number]["how"]) =>
      setView((v) => stretched(v ?? { from: 0, to: count }, how, count)),
    [count],
  );
  const shown = useMemo(() => columns && inView(columns, from, to), [columns, from, to]);
  return (
    <section
      className="stack close"
      aria-label="Chart"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: what is moved by keys must be reached by the keyboard
      tabIndex={0}
      onKeyDown={(event) => {
        const pressed = moves.find((m) => m.key === event.key || (m.key === "+" && event.key === "="));
        if (!pressed || event.target !== event.currentTarget) return;
        event.preventDefault();
        move(pressed.how);
      }}
    >
      <InBrowser>{shown && <ControlChart {...props} {...shown} view={[from + 1, to]} />}</InBrowser>
      {count > worthMoving && (
        <div className="cluster no-print">
          {moves.map(({ how, label, key }) => (
            <button key={how} type="button" className="calm" onClick={() => move(how)}>
              {label} <kbd>{signs[key] ?? key}</kbd>
            </button>
          ))}
          <span className="quiet small" role="status">
            {to - from === count ? counted(count, "result") : `Results ${from + 1} to ${to} of ${count}`}
          </span>
        </div>
      )}
    </section>
  );
}
