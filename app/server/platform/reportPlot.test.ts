import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { type Mark, type Plot, plotMarks, plotSize } from "./reportPlot";

const plot = (change: Partial<Plot> = {}): Plot => ({
  title: "pH",
  words: "pH",
  decimals: 2,
  from: "1 Sep",
  to: "24 Nov",
  points: [
    { at: 0, value: 7, marked: false },
    { at: 0.5, value: 8, marked: true },
    { at: 1, value: 9, marked: false },
  ],
  levels: [],
  band: null,
  ...change,
});
const of = <K extends Mark["kind"]>(marks: Mark[], kind: K) =>
  marks.filter((m): m is Extract<Mark, { kind: K }> => m.kind === kind);

describe("a plot on a report", () => {
  it("puts larger values higher, later ones further right, and the middle between", () => {
    const [low, middle, high] = of(plotMarks(plot()), "dot");
    expect(low?.y).toBeGreaterThan(middle?.y ?? 0);
    expect(middle?.y).toBeGreaterThan(high?.y ?? 0);
    expect(((low?.y ?? 0) + (high?.y ?? 0)) / 2).toBeCloseTo(middle?.y ?? 0, 6);
    expect(middle?.x).toBeCloseTo(((low?.x ?? 0) + (high?.x ?? 0)) / 2, 6);
    expect(of(plotMarks(plot()), "dot").map((d) => d.marked)).toEqual([false, true, false]);
  });

  it("has round numbers at its side", () => {
    const marks = plotMarks(plot({ decimals: 1 }));
    const side = of(marks, "text").filter((t) => t.end === "right" && t.x < 60);
    expect(side.map((t) => t.text)).toEqual(["7.0", "8.0", "9.0"]);
  });

  it("keeps everything within its frame, whatever is drawn, and words of levels apart", () => {
    const number = fc.double({ min: -1e4, max: 1e4, noNaN: true });
    fc.assert(
      fc.property(
        fc.array(number, { minLength: 1, maxLength: 40 }),
        fc.array(number, { maxLength: 5 }),
        fc.option(fc.tuple(number, number)),
        (values, levels, band) => {
          const marks = plotMarks(
            plot({
              points: values.map((value, i) => ({
                at: values.length > 1 ? i / (values.length - 1) : 0.5,
                value,
                marked: false,
              })),
              levels: levels.map((value) => ({ value, words: "level", strong: false })),
              band: band ? { low: Math.min(...band), high: Math.max(...band) } : null,
            }),
          );
          for (const dot of of(marks, "dot")) {
            expect(dot.y).toBeGreaterThanOrEqual(0);
            expect(dot.y).toBeLessThanOrEqual(plotSize.height);
            expect(dot.x).toBeGreaterThanOrEqual(0);
            expect(dot.x).toBeLessThanOrEqual(plotSize.width);
          }
          const words = of(marks, "text").filter((t) => t.text === "level");
          for (const [i, one] of words.entries()) {
            const next = words[i + 1];
            if (next) expect(next.y - one.y).toBeGreaterThanOrEqual(8.999);
          }
          expect(of(marks, "text").length).toBeLessThan(20);
        },
      ),
      { examples: [[[-5e-324], [], null]] },
    );
  });

  it("joins its points unless they say nothing of each other", () => {
    const traces = (p: Plot) => plotMarks(p).filter((m) => m.kind === "line" && m.look === "trace");
    expect(traces(plot())).toHaveLength(1);
    expect(traces(plot({ joined: false }))).toEqual([]);
  });

  it("draws a flat line in the middle", () => {
    const marks = plotMarks(plot({ points: [0, 1].map((at) => ({ at, value: 5, marked: false })) }));
    for (const dot of of(marks, "dot")) expect(dot.y).toBeCloseTo(68, 0);
  });
});
