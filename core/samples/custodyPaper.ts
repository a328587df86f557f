import { formatNumber } from "../quantity/format";
import { showTime } from "../time/words";
import type { CustodyFile } from "./custodyDocument";
import { sealWords } from "./custodyEvents";

/** The page that travels with a batch: what a laboratory reads first, and lines for the hands that are still to come. */
export interface CustodyPaper {
  title: string;
  number: string;
  facts: [string, string][];
  samples: { columns: string[]; rows: string[][] };
  hands: { columns: string[]; rows: string[][] };
  /** Sentences on what must be known before a bottle is opened. */
  notes: string[];
}

/** Hands for which the page has an empty line. */
const openLines = 3;

const degrees = (t: number | null): string => (t === null ? "–" : `${formatNumber(t, 1)} °C`);

/** What of a batch stands on its page, in words. Check value: two samples and no hand-over give two rows and three empty lines. */
export function custodyPaper(file: CustodyFile): CustodyPaper {
  const time = (at: string) => showTime(at, file.zone, "full");
  const preserved = (s: CustodyFile["samples"][number]) =>
    [
      s.bottle,
      s.preservative,
      s.filtered === "filtered"
        ? "filtered"
        : s.filtered === "too-turbid"
          ? "not filtered: too turbid"
          : s.filtered === "not"
            ? "not filtered"
            : null,
      s.arrives_c === null ? null : `at most ${formatNumber(s.arrives_c, 0)} °C`,
    ]
      .filter(Boolean)
      .join("; ");
  return {
    title: `Samples for ${file.laboratory}`,
    number: file.id,
    facts: [
      ["Made", time(file.made_at)],
      ...(file.programme ? ([["Programme", file.programme]] as [string, string][]) : []),
      ...(file.contact ? ([["Questions to", file.contact]] as [string, string][]) : []),
      ["Samples", String(file.samples.length)],
    ],
    samples: {
      columns: ["Sample", "Site, water", "Taken", "Keeps until", "Bottle and what was added", "Tests"],
      rows: file.samples.map((s) => [
        s.code,
        `${s.site}, ${s.water}`,
        time(s.collected_at),
        time(s.keeps_until),
        preserved(s),
        [...s.tests, ...s.added_tests.map((t) => ({ name: `${t.name} (added)` }))]
          .map((t) => t.name)
          .join(", "),
      ]),
    },
    hands: {
      columns: ["From", "To", "When", "Cooler", "Seal", "Signed"],
      rows: [
        ...file.hand_overs.map((h) => [
          h.from,
          h.receipt ? `${h.to} (laboratory)` : h.to,
          time(h.at),
          degrees(h.temperature_c),
          sealWords[h.seal],
          "",
        ]),
        ...Array.from({ length: openLines }, () => ["", "", "", "", "", ""]),
      ],
    },
    notes: [
      ...(file.notes ? [file.notes] : []),
      ...new Set(file.samples.flatMap((s) => s.findings.map((f) => f.sentence))),
      "Bottles with acid or with iodide-azide: gloves and goggles; see the safety data sheet of what was added.",
      `Times are those of ${file.zone}. The square on each bottle holds the sample's id.`,
    ],
  };
}
