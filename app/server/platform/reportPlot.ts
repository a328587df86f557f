import { formatNumber } from "../../../core/quantity/format";
import { type DecimalMark, inHouseNumbers } from "../../../core/quantity/houseNumbers";

/** Values in time as a report shows them. */
export interface Plot {
  /** What is drawn, with its unit: it stands above. */
  title: string;
  /** In words, for whoever has it read out. */
  words: string;
  decimals: number;
  decimal_mark?: DecimalMark;
  /** False where one point says nothing of the next: no line joins them. */
  joined?: boolean;
  /** What the ends of the time axis are called. */
  from: string;
  to: string;
  /** Oldest first: share of the time axis, value, and whether it stands out. */
  points: { at: number; value: number; marked: boolean }[];
  /** Levels that values are held against. */
  levels: { value: number; words: string; strong: boolean }[];
  /** What is usual, as a band. */
  band: { low: number; high: number } | null;
}

/** One stroke, dot or word of a drawing, in points from its upper left corner. */
export type Mark =
  | { kind: "line"; points: [x: number, y: number][]; look: "axis" | "trace" | "level" | "strong" }
  | { kind: "band"; x: number; y: number; width: number; height: number }
  | { kind: "dot"; x: number; y: number; marked: boolean }
  | { kind: "text"; x: number; y: number; text: string; end: "left" | "right" };

/** How large a drawing is, in points: the width of an A4 sheet between its margins. */
export const plotSize = { width: 495, height: 150 };
const frame = { left: 46, right: 395, top: 8, bottom: 128 };

/** Round steps that cut a span into about four. Check value: 0 to 10 gives steps of 2.5 or 2. */
function ticks(low: number, high: number): number[] {
  const rough = (high - low) / 4;
  const power = 10 ** Math.floor(Math.log10(rough));
  const step = power * ([1, 2, 5, 10].find((n) => n * power >= rough) ?? 10);
  const all: number[] = [];
  for (let n = Math.ceil(low / step); n * step <= high + step * 1e-9; n++) all.push(n * step);
  return all;
}

/** The whole drawing, as marks that a screen and a sheet of paper put down alike. */
export function plotMarks(plot: Plot): Mark[] {
  const { points, levels, band, decimals, decimal_mark = "point" } = plot;
  const all = [
    ...points.map((p) => p.value),
    ...levels.map((l) => l.value),
    ...(band ? [band.low, band.high] : []),
  ];
  const least = Math.min(...all);
  const most = Math.max(...all);
  // A flat line is drawn in the middle of something, however small its values are.
  const margin = Math.max(1e-9, (most - least || Math.abs(most) || 1) * 0.06);
  const [low, high] = [least - margin, most + margin];
  const y = (value: number) => frame.bottom - ((value - low) / (high - low)) * (frame.bottom - frame.top);
  const x = (at: number) => frame.left + at * (frame.right - frame.left);
  const marks: Mark[] = [];
  if (band) {
    const top = y(band.high);
    marks.push({
      kind: "band",
      x: frame.left,
      y: top,
      width: frame.right - frame.left,
      height: y(band.low) - top,
    });
  }
  marks.push({
    kind: "line",
    look: "axis",
    points: [
      [frame.left, frame.top],
      [frame.left, frame.bottom],
      [frame.right, frame.bottom],
    ],
  });
  for (const value of ticks(low, high)) {
    marks.push({
      kind: "text",
      x: frame.left - 5,
      y: y(value),
      text: inHouseNumbers(formatNumber(value, decimals), decimal_mark),
      end: "right",
    });
  }
  let beneath = Number.NEGATIVE_INFINITY;
  for (const level of [...levels].sort((a, b) => b.value - a.value)) {
    marks.push({
      kind: "line",
      look: level.strong ? "strong" : "level",
      points: [
        [frame.left, y(level.value)],
        [frame.right, y(level.value)],
      ],
    });
    // Words of levels that lie close stand below each other.
    beneath = Math.max(y(level.value), beneath + 9);
    marks.push({ kind: "text", x: frame.right + 5, y: beneath, text: level.words, end: "left" });
  }
  if (plot.joined !== false)
    marks.push({ kind: "line", look: "trace", points: points.map((p) => [x(p.at), y(p.value)]) });
  for (const { at, value, marked } of points) marks.push({ kind: "dot", x: x(at), y: y(value), marked });
  marks.push({ kind: "text", x: frame.left, y: frame.bottom + 10, text: plot.from, end: "left" });
  marks.push({ kind: "text", x: frame.right, y: frame.bottom + 10, text: plot.to, end: "right" });
  return marks;
}
