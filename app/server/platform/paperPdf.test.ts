import { describe, expect, it } from "vitest";
import { piecesOfPdf } from "../testing/pdfText";
import { beginPdf, full, page, put, table } from "./paperPdf.server";

/** What a sheet carries on which so much is drawn. */
async function drawn(draw: (doc: ReturnType<typeof beginPdf>["doc"]) => void) {
  const { doc, done } = beginPdf("A sheet");
  draw(doc.fontSize(10));
  doc.end();
  return piecesOfPdf(await done);
}

/** All that is written, without the spaces, which a reader gives or not. */
const written = (pieces: readonly { text: string }[]) =>
  pieces.map(({ text }) => text.replaceAll(" ", "")).join("");

describe("formulas on paper", () => {
  it("have their figures smaller and lower, right behind what they belong to", async () => {
    const pieces = await drawn((doc) => put(doc, "text", "Nitrate as NO3-N, 4.2 mg/L", page.left, 80, full));
    const at = pieces.findIndex((p) => p.text === "3");
    const [left, figure, right] = [pieces[at - 1], pieces[at], pieces[at + 1]];
    expect(left?.text.endsWith("NO")).toBe(true);
    expect(right?.text.startsWith("-N")).toBe(true);
    if (!(left && figure && right)) throw new Error("The formula is not there.");
    expect(figure.size).toBeCloseTo(7, 5);
    expect(left.size).toBeCloseTo(10, 5);
    expect(figure.y).toBeCloseTo(left.y - 1.4, 2);
    expect(right.y).toBeCloseTo(left.y, 5);
    expect(figure.x).toBeCloseTo(left.x + left.width, 1);
    expect(right.x).toBeCloseTo(figure.x + figure.width, 1);
  });

  it("leave numbers, codes and units alone", async () => {
    const pieces = await drawn((doc) => put(doc, "number", "B7-098 at 25 °C, pH 7.02", page.left, 80, full));
    expect(written(pieces)).toBe("B7-098at25°C,pH7.02");
    expect(new Set(pieces.map((p) => p.size))).toEqual(new Set([10]));
  });

  it("stand on the line of the others where the micro sign comes from another face", async () => {
    const pieces = await drawn((doc) => put(doc, "number", "1413 µS/cm", page.left, 80, full));
    expect(written(pieces)).toBe("1413µS/cm");
    expect(new Set(pieces.map((p) => p.y.toFixed(3))).size).toBe(1);
  });

  it.each([70, 75, 90, 110, 130])(
    "no line ends within one, nor between a number and its unit, in a column of %i points",
    async (width) => {
      const text = "Phosphate as PO4-P at 12.4\u00a0µS/cm and alkalinity as CaCO3 in mg/L";
      const pieces = await drawn((doc) => put(doc, "text", text, page.left, 80, width));
      expect(written(pieces)).toBe(text.replaceAll(/\s/g, ""));
      for (const [i, piece] of pieces.entries()) {
        const left = pieces[i - 1];
        if (!left || !["4", "3", "-P", "µ", "S/cm"].includes(piece.text.trim())) continue;
        expect(Math.abs(piece.y - left.y), `${left.text}|${piece.text}`).toBeLessThan(2);
        expect(piece.x + piece.width).toBeLessThan(page.left + width + 0.5);
      }
    },
  );

  it("go on over the page where the sheet ends", async () => {
    const text = "Phosphate as PO4-P in the outlet. ".repeat(40).trim();
    const pieces = await drawn((doc) => put(doc, "text", text, page.left, 700, full));
    expect(new Set(pieces.map((p) => p.page))).toEqual(new Set([1, 2]));
    expect(Math.min(...pieces.map((p) => p.y))).toBeGreaterThan(48);
    expect(pieces.filter((p) => p.text === "4")).toHaveLength(40);
  });

  it("begin a line of their own where somebody broke the text", async () => {
    const pieces = await drawn((doc) =>
      put(doc, "text", "PO4-P was high.\n\nSeen again:\nNO3-N too.", page.left, 80, full),
    );
    const lines = new Map<string, string>();
    for (const p of pieces.filter((p) => p.size > 8)) {
      const y = p.y.toFixed(0);
      lines.set(y, (lines.get(y) ?? "") + p.text);
    }
    const written = [...lines.values()].map((line) => line.replaceAll(" ", ""));
    expect(written).toEqual(["PO-Pwashigh.", "Seenagain:", "NO-Ntoo."]);
    expect(pieces.every((p) => p.x >= page.left)).toBe(true);
    const [first = 0, second = 0, third = 0] = [...lines.keys()].map(Number);
    // An empty line lies between the first two.
    expect(first - second).toBeCloseTo(2 * (second - third), 0);
  });

  it("make a row of a table as high as it needs", async () => {
    const pieces = await drawn((doc) =>
      table(
        doc,
        [90, 90],
        ["Of what", "Value"],
        [
          ["Total alkalinity as CaCO3", "101 mg/L"],
          ["pH", "7.02"],
        ],
      ),
    );
    const y = (text: string) => pieces.find((p) => p.text.trim() === text)?.y ?? Number.NaN;
    expect(y("pH")).toBeLessThan(y("3") - 8);
    expect(y("pH")).toBeCloseTo(y("7.02"), 3);
  });
});
