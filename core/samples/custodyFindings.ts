import type { Finding, Severity } from "../judgement/finding";
import { showTime } from "../time/words";
import { arrivalFindings } from "./arrival";
import { type CustodyState, type Handover, holderOf } from "./custody";

const finding = (
  rule: string,
  severity: Severity,
  measured: string,
  limit: string,
  sentence: string,
  action: string,
): Finding => ({ rule, severity, measured, limit, sentence, action });

const same = (a: string, b: string) => a.trim().toLowerCase() === b.trim().toLowerCase();

/** A place where the chain of hands is open: who had the samples, and who gave them on. */
export interface CustodyGap {
  after: string;
  holder: string;
  before: string;
  giver: string;
}

/**
 * Where nobody signed: each who gives the samples on must be the one who was given them. Check value: given to Ada and given on
 * by Bo is a gap.
 */
export function custodyGaps({
  batch,
  handovers,
  started_at,
}: Pick<CustodyState, "batch" | "handovers" | "started_at">): CustodyGap[] {
  return handovers.flatMap((hop, i) => {
    const before = handovers.slice(0, i);
    const holder = holderOf({ batch, handovers: before });
    return same(holder, hop.from)
      ? []
      : [{ after: before.at(-1)?.at ?? started_at, holder, before: hop.at, giver: hop.from }];
  });
}

/**
 * What the way to the laboratory says of one sample, for every result of it. Source: common practice: a
 * closed chain, at most 6 °C on arrival (microbiology below 10 °C). Check value: received at 9 °C, a bottle that may arrive at
 * 6 °C is qualified.
 */
export function custodyFindings(state: CustodyState, sampleId: string, zone: string): Finding[] {
  const sample = state.samples.find((s) => s.id === sampleId);
  if (!sample) return [];
  const receipt = state.handovers.find((h) => h.receipt);
  return [
    ...custodyGaps(state).map((gap) =>
      finding(
        "custody-gap",
        "qualify",
        `${gap.holder} had it, ${gap.giver} gave it on`,
        "every hand-over signed",
        `Between ${showTime(gap.after, zone, "both")} and ${showTime(gap.before, zone, "both")} nobody says how it came from ${gap.holder} to ${gap.giver}.`,
        "Ask both, and note what they say.",
      ),
    ),
    ...(receipt
      ? receiptFindings(receipt, sample.arrives_c)
      : state.results.some((r) => r.sample_id === sampleId)
        ? [
            finding(
              "custody-gap",
              "qualify",
              "no receipt",
              "received by the laboratory",
              "There is a result, and nobody wrote down that the laboratory received the sample.",
              "Ask the laboratory when and how cold it arrived.",
            ),
          ]
        : []),
    ...(state.absent.includes(sampleId)
      ? [
          finding(
            "not-arrived",
            "hold",
            "missing or broken",
            "received whole",
            "The laboratory wrote that this sample was missing or broken.",
            "Ask the laboratory what it measured. Take a new sample.",
          ),
        ]
      : []),
  ];
}

function receiptFindings({ temperature_c, seal }: Handover, arrives_c: number | null): Finding[] {
  return [
    ...arrivalFindings(temperature_c, arrives_c),
    ...(seal === "broken"
      ? [
          finding(
            "seal-broken",
            "qualify",
            "seal broken",
            "seal intact",
            "The seal was broken when the samples arrived.",
            "Ask who opened the cooler, and note it.",
          ),
        ]
      : []),
  ];
}
