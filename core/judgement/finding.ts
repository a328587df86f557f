/** How much a finding matters: nothing to object to, use with a note, or do something first. */
export type Severity = "ok" | "qualify" | "hold";

/** One rule applied to one piece of evidence: what was measured, the limit, and what to do about it. */
export interface Finding {
  rule: string;
  severity: Severity;
  /** What was found, with its unit. */
  measured: string;
  /** The limit it was held against, with its unit. */
  limit: string;
  /** One sentence in the technician's words. */
  sentence: string;
  /** The next action in plain words; empty when nothing has to be done. */
  action: string;
}

export const verdicts = ["sound", "qualified", "held", "void"] as const;
export type Verdict = (typeof verdicts)[number];
export type CalibrationVerdict = "sound" | "qualified" | "failed";

/** Verdicts from the best to the worst: the one place that ranks them. */
const verdictRank: readonly (Verdict | CalibrationVerdict)[] = [
  "sound",
  "qualified",
  "held",
  "failed",
  "void",
];

/** The worst of several verdicts. Check value: sound and held is held. Errors: none; at least one is needed. */
export const worstVerdict = <V extends Verdict | CalibrationVerdict>(verdicts: readonly V[]): V =>
  verdicts.reduce((a, b) => (verdictRank.indexOf(b) > verdictRank.indexOf(a) ? b : a));

/** The worst severity among findings; `ok` for none. */
function worstSeverity(findings: readonly Finding[]): Severity {
  if (findings.some((f) => f.severity === "hold")) return "hold";
  if (findings.some((f) => f.severity === "qualify")) return "qualify";
  return "ok";
}

/** A reading's verdict follows from its worst finding. Check value: no findings is `sound`. */
export const readingVerdict = (findings: readonly Finding[]): Verdict =>
  ({ ok: "sound", qualify: "qualified", hold: "held" })[worstSeverity(findings)] as Verdict;

/** A calibration's verdict follows from its worst finding; a hold means the meter may not be used. */
export const calibrationVerdict = (findings: readonly Finding[]): CalibrationVerdict =>
  ({ ok: "sound", qualify: "qualified", hold: "failed" })[worstSeverity(findings)] as CalibrationVerdict;

/** What stands against a reading: the findings that are not fine. These are kept; what is fine follows from the evidence. */
export const objections = (findings: readonly Finding[]): Finding[] =>
  findings.filter((f) => f.severity !== "ok");

/** Findings with the ones that need a hand first, otherwise in their order. */
export function worstFirst(findings: readonly Finding[]): Finding[] {
  const rank: Record<Severity, number> = { hold: 0, qualify: 1, ok: 2 };
  return [...findings].sort((a, b) => rank[a.severity] - rank[b.severity]);
}

/** What stands worst against a result, in a sentence; empty where nothing does. */
export const worstObjection = (findings: readonly Finding[]): string =>
  worstFirst(objections(findings))[0]?.sentence ?? "";
