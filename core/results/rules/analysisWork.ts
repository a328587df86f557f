import type { Finding } from "../../judgement/finding";
import { formatNumber } from "../../quantity/format";
import { localDate } from "../../time/local";
import { duration } from "../../time/words";
import type { EvidenceLot } from "../analysisEvidence";
import { fine, named, type Rule } from "./analysisWords";

/** Each reading inside its window, or early or late by so many seconds. */
export const judgeTiming: Rule = (evidence) => {
  const all = evidence.replicates.flatMap((r, i) => r.timings.map((t) => ({ ...t, i })));
  const off = all.filter((t) => t.early_s > 0 || t.late_s > 0);
  if (all.length === 0) return [];
  if (off.length === 0) {
    return [
      fine(
        "on-time",
        all.map((t) => duration(t.after_s)).join(", "),
        all.map((t) => duration(t.due_s)).join(", "),
        "Everything that had a moment was done at its moment.",
      ),
    ];
  }
  return off.map(({ name, reading, after_s, due_s, early_s, late_s, i }) => ({
    rule: early_s > 0 ? "read-early" : "read-late",
    severity: "qualify" as const,
    measured: `after ${duration(after_s)}`,
    limit: `at ${duration(due_s)}`,
    sentence: `${named(evidence, i)}${name} was ${early_s > 0 ? `early by ${duration(early_s)}` : `late by ${duration(late_s)}`}.`,
    action:
      early_s > 0
        ? `${reading ? "The colour" : "What came before"} had not finished. Run it again if the result matters.`
        : `${reading ? "The colour goes on changing" : "What waits too long may spoil"}. Run it again if the result matters.`,
  }));
};

export const judgeSteps: Rule = (evidence) => {
  const skipped = evidence.replicates.flatMap((r, i) => r.skipped.map((s) => ({ ...s, i })));
  if (skipped.length === 0) return [fine("steps-done", "all ticked", "every step", "Every step was done.")];
  return skipped.map(({ step, reason, i }) => ({
    rule: "step-skipped",
    severity: "qualify" as const,
    measured: "left out",
    limit: "every step",
    sentence: `${named(evidence, i)}“${step}” was left out: ${reason}`,
    action: "Run it again with every step if the result matters.",
  }));
};

const rinsed = (n: number) => (n === 0 ? "not rinsed" : n === 1 ? "rinsed once" : `rinsed ${n} times`);

/** Vessels rinsed as often as the method asks: what was in them before goes into the result. Silent where nobody counted. */
export const judgeRinses: Rule = (evidence) => {
  const all = evidence.replicates.flatMap((r, i) => (r.rinsed ?? []).map((x) => ({ ...x, i })));
  const short = all.filter((x) => x.times < x.asked);
  if (all.length === 0) return [];
  if (short.length === 0) {
    return [
      fine(
        "rinsed",
        all.map((x) => rinsed(x.times)).join(", "),
        all.map((x) => rinsed(x.asked)).join(", "),
        "Every vessel was rinsed as often as the method asks.",
      ),
    ];
  }
  return short.map(({ step, times: n, asked, i }) => ({
    rule: "rinse-missing",
    severity: "qualify" as const,
    measured: rinsed(n),
    limit: rinsed(asked),
    sentence: `${named(evidence, i)}“${step}” asks for ${asked} rinses, and the vessel was ${rinsed(n)}.`,
    action:
      "What was in the vessel before may be in the result. Rinse and run it again if the result matters.",
  }));
};

export const judgeLots: Rule = ({ lots, unnamed, measured_at }, { zone }) => {
  const day = localDate(measured_at, zone);
  const isWithdrawn = (l: EvidenceLot) => l.condition?.state === "withdrawn";
  const isExpired = (l: EvidenceLot) =>
    !isWithdrawn(l) &&
    (l.condition ? l.condition.state !== "good" : l.expires_on !== null && l.expires_on < day);
  const expired = lots.filter(isExpired);
  const questioned = lots.filter((l) => l.reason !== null && !isExpired(l) && !isWithdrawn(l));
  const findings: Finding[] = [
    ...lots.filter(isWithdrawn).map((l) => ({
      rule: "lot-withdrawn",
      severity: "hold" as const,
      measured: `lot ${l.code}`,
      limit: "a lot that may be used",
      sentence: `${l.name} of lot ${l.code} must not be used. ${l.condition?.sentence ?? ""}`.trim(),
      action: "Run it again with another lot, if there is still water.",
    })),
    ...expired.map((l) => ({
      rule: "lot-expired",
      severity: "qualify" as const,
      measured: `lot ${l.code}: ${l.condition?.sentence ?? `expired on ${l.expires_on}`}`,
      limit: "in date",
      sentence: `${l.name} of lot ${l.code} ${l.condition?.state === "open-too-long" ? "had been open too long" : "had expired"}.${l.reason ? ` Used because: ${l.reason}` : ""}`,
      action: "Run it again with a lot that is in date.",
    })),
    ...questioned.map((l) => ({
      rule: "lot-questioned",
      severity: "qualify" as const,
      measured: `lot ${l.code}`,
      limit: "a lot of this reagent",
      sentence: `Whether lot ${l.code} is ${l.name.toLowerCase()} was questioned. Kept because: ${l.reason}`,
      action: "Look at the bottle again; run it again if it was another one.",
    })),
    ...(unnamed.length
      ? [
          {
            rule: "lot-missing",
            severity: "qualify" as const,
            measured: `no lot of ${unnamed.join(", ")}`,
            limit: "a lot for each reagent",
            sentence: `Nobody said which bottle was used of ${unnamed.length} of the reagents.`,
            action: "Name the lot next time: a bad bottle can then be traced.",
          },
        ]
      : []),
  ];
  if (findings.length || lots.length === 0) return findings;
  return [fine("lots-in-date", lots.map((l) => l.code).join(", "), "in date", "Every reagent was in date.")];
};

export const judgeTemperature: Rule = ({ temperature_c, method }) => {
  const [low, high] = method.temperature_c;
  if (temperature_c === null) return [];
  const measured = `${formatNumber(temperature_c, 1)} °C`;
  const limit = `${low} – ${high} °C`;
  if (temperature_c >= low && temperature_c <= high) {
    return [fine("sample-temperature", measured, limit, "The sample's temperature suits the method.")];
  }
  const cold = temperature_c < low;
  return [
    {
      rule: "sample-temperature",
      severity: "qualify",
      measured,
      limit,
      sentence: `The sample was too ${cold ? "cold" : "warm"} for this method.`,
      action: cold
        ? "Warm the sample in your hands or a bath, then run it again."
        : "Let the sample cool, then run it again.",
    },
  ];
};
