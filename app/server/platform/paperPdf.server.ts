import { createRequire } from "node:module";
import { dirname, join } from "node:path";
import PDFDocument from "pdfkit";

const { resolve: find } = createRequire(join(process.cwd(), "package.json"));
/** The fonts of the screens, as files that a PDF can carry. */
const fontFile = (family: "next" | "mono", weight: 400 | 600): string => {
  const name = `atkinson-hyperlegible-${family}`;
  return join(
    dirname(find(`@fontsource/${name}/package.json`)),
    "files",
    `${name}-latin-${weight}-normal.woff`,
  );
};

export const ink = "#16292e";
export const quiet = "#4c6066";
export const page = { left: 50, right: 545, bottom: 770 };
export const full = page.right - page.left;

/** Characters that the embedded fonts do not draw: thin spaces become plain ones. */
const printable = (text: string): string => text.replace(/[\u202f\u2009\u00a0]/g, " ");

export type Doc = InstanceType<typeof PDFDocument>;
type Face = "text" | "strong" | "number";

/** Writes at a place; the micro sign, which the fonts of the screens lack, comes from the reader's own font. */
export function put(doc: Doc, face: Face, text: string, x: number, y: number, width: number): void {
  const parts = printable(text).split(/(µ)/).filter(Boolean);
  for (const [i, part] of parts.entries()) {
    doc.font(part === "µ" ? "Helvetica" : face);
    const options = { width, continued: i < parts.length - 1 };
    if (i === 0) doc.text(part, x, y, options);
    else doc.text(part, options);
  }
}

/** A new A4 sheet in the faces of the screens, and what it is when it is done. */
export function beginPdf(title: string): { doc: Doc; done: Promise<Buffer> } {
  const doc = new PDFDocument({ size: "A4", margin: 50, info: { Title: title, Creator: "Brintel" } });
  const chunks: Buffer[] = [];
  const done = new Promise<Buffer>((resolve, reject) => {
    doc.on("data", (chunk: Buffer) => chunks.push(chunk));
    doc.on("end", () => resolve(Buffer.concat(chunks)));
    doc.on("error", reject);
  });
  doc.registerFont("text", fontFile("next", 400));
  doc.registerFont("strong", fontFile("next", 600));
  doc.registerFont("number", fontFile("mono", 400));
  return { doc, done };
}

/** The head of a sheet: what kind of paper it is, its title, its number. */
export function paperHead(doc: Doc, kind: string, title: string, number: string): void {
  doc.font("text").fontSize(10).fillColor(quiet).text(`Brintel · ${kind}`, page.left, 50);
  doc.font("strong").fontSize(22).fillColor(ink).text(printable(title));
  doc.font("number").fontSize(8).fillColor(quiet).text(number).moveDown(0.8);
}

/** Begins a new page when less than so much is left. */
export function room(doc: Doc, points: number): void {
  if (doc.y + points > page.bottom) doc.addPage();
}

/** Facts with their names, one a line. */
export function pairs(doc: Doc, rows: readonly [string, string][], labelWidth: number): void {
  for (const [label, value] of rows) {
    room(doc, 16);
    const y = doc.y;
    doc.fontSize(9.5).fillColor(quiet);
    put(doc, "text", label, page.left, y, labelWidth - 6);
    const afterLabel = doc.y;
    doc.fillColor(ink);
    put(doc, "number", value, page.left + labelWidth, y, full - labelWidth);
    doc.y = Math.max(afterLabel, doc.y) + 2;
  }
}

/** A table whose columns are so wide; a row as high as its longest cell, or so high at least. */
export function table(
  doc: Doc,
  widths: readonly number[],
  columns: readonly string[],
  rows: readonly string[][],
  least = 0,
): void {
  const line = (cells: readonly string[], face: "text" | "number", size: number) => {
    room(doc, 26);
    const y = doc.y;
    let x = page.left;
    let lowest = y;
    for (const [i, cell] of cells.entries()) {
      const width = widths[i] ?? 60;
      doc.fontSize(size).fillColor(face === "text" ? quiet : ink);
      put(doc, face, cell, x, y, width - 6);
      lowest = Math.max(lowest, doc.y);
      x += width;
    }
    doc.y = Math.max(lowest, y + (face === "number" ? least : 0)) + 3;
  };
  line(columns, "text", 8.5);
  for (const row of rows) {
    line(row, "number", 8);
    if (least) {
      doc.moveTo(page.left, doc.y).lineTo(page.right, doc.y).strokeColor(quiet).lineWidth(0.4).stroke();
      doc.y += 3;
    }
  }
}
