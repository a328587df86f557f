import { aheadOfUtc } from "../../../core/time/ahead";
import { showTime } from "../../../core/time/words";

const hour = 3_600_000;
const day = 24 * hour;
/** Distances between the marks of an axis of time; from a day on they stand at noon, which no change of the clocks moves to another day. */
const steps = [1, 2, 3, 6, 12]
  .map((h) => h * hour)
  .concat([1, 2, 7, 14, 28, 91, 182, 364].map((d) => d * day));

/** Moments to mark between two others (ms), at most so many, at whole hours or at noon of a zone. */
export function timeMarks(from: number, to: number, zone: string, most = 9): number[] {
  const step = steps.find((s) => (to - from) / s <= most) ?? (steps.at(-1) as number);
  const shift = (step >= day ? 12 * hour : 0) - aheadOfUtc(from, zone);
  const marks: number[] = [];
  for (let at = Math.ceil((from - shift) / step) * step + shift; at <= to; at += step) marks.push(at);
  return marks;
}

/** The options of an axis of time with true distances. */
export function timeAxis(from: number, to: number, zone: string) {
  const marks = timeMarks(from, to, zone);
  const clock = (marks[1] ?? to) - (marks[0] ?? from) < day;
  // A single moment stands in the middle of its own day.
  const [min, max] = from === to ? [from - day / 2, to + day / 2] : [from, to];
  const margin = (max - min) * 0.02;
  return {
    type: "linear" as const,
    min: min - margin,
    max: max + margin,
    afterBuildTicks: (axis: { ticks: { value: number }[] }) => {
      axis.ticks = marks.map((value) => ({ value }));
    },
    label: (value: number | string) =>
      showTime(new Date(Number(value)).toISOString(), zone, clock ? "both" : "short"),
  };
}
