import { createRequire } from "node:module";
import { dirname, join } from "node:path";
import PDFDocument from "pdfkit";
import { formulaParts } from "../../../core/quantity/formula";

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
type Element = ReturnType<Doc["struct"]>;

/**
 * What a part of the sheet is, for whoever has it read out. Source: ISO 32000-1, 14.8.4, the standard structure types.
 */
export type Part = "H1" | "H2" | "P" | "Lbl" | "LBody" | "TH" | "TD" | "Figure";

/** The parts that are open on a sheet, the innermost last. */
const open = new WeakMap<Doc, Element[]>();

/** Draws something that is a part of the sheet; what is drawn otherwise is ornament. */
export function part(doc: Doc, what: Part, draw: () => void, alt?: string): void {
  open
    .get(doc)
    ?.at(-1)
    ?.add(doc.struct(what, alt === undefined ? {} : { alt }, draw));
}

/** Draws parts that belong together. */
function group(doc: Doc, what: "L" | "LI" | "Table" | "TR", draw: () => void): void {
  const stack = open.get(doc) ?? [];
  const element = doc.struct(what);
  stack.at(-1)?.add(element);
  stack.push(element);
  draw();
  stack.pop();
  element.end();
}

/** Draws what says nothing by itself: rules, lines to sign on. */
function ornament(doc: Doc, draw: () => void): void {
  doc.markContent("Artifact");
  draw();
  doc.endMarkedContent();
}

/** A line across the sheet, or a part of it. */
export const rule = (doc: Doc, from: number, to: number, colour: string, width: number): void =>
  ornament(doc, () =>
    doc.moveTo(from, doc.y).lineTo(to, doc.y).strokeColor(colour).lineWidth(width).stroke(),
  );

/** How much of a line of the screens' faces lies above where letters stand, by their own files: 984 of 1300. */
const ascent = 984 / 1300;

/** A piece of a line as it is set: in which face, how large, and how far below the line. */
interface Piece {
  text: string;
  face: Face | "Helvetica";
  size: number;
  drop: number;
}

/** Figures of formulas are so much smaller than what they belong to, and stand so much lower, in parts of its size. */
const low = { size: 0.7, drop: 0.14 };

/** A word in the pieces it is set in: the micro sign, which the faces of the screens lack, comes from the reader's own. */
const piecesOf = (word: string, face: Face, size: number): Piece[] =>
  formulaParts(word).flatMap((p): Piece[] =>
    p.low
      ? [{ text: p.text, face, size: size * low.size, drop: size * low.drop }]
      : p.text
          .split(/(µ)/)
          .filter(Boolean)
          .map((text) => ({ text, face: text === "µ" ? "Helvetica" : face, size, drop: 0 })),
  );

const widthOf = (doc: Doc, pieces: readonly Piece[]): number =>
  pieces.reduce((sum, { text, face, size }) => sum + doc.font(face).fontSize(size).widthOfString(text), 0);

/** Writes at a place, each line that somebody broke as one of its own. */
function write(doc: Doc, face: Face, given: string, x: number, y: number, width: number): void {
  doc.y = y;
  for (const line of given.split(/\r?\n/)) {
    if (line) writeLine(doc, face, line, x, doc.y, width);
    else doc.y += doc.font(face).currentLineHeight();
  }
}

/**
 * Writes a text without breaks. One with formulas or micro signs is set word by word, so that no line ends within one of them; all
 * pieces stand on one line, which lies so far below the top of the faces of the screens.
 */
function writeLine(doc: Doc, face: Face, given: string, x: number, y: number, width: number): void {
  const text = printable(given);
  const height = doc.font(face).currentLineHeight();
  // The size in use: the sheet does not tell it, but the height of a line, which grows with it.
  const size = height / doc.fontSize(1).currentLineHeight();
  doc.fontSize(size);
  const inOneFace = piecesOf(text, face, size).every((piece) => piece.face === face && piece.drop === 0);
  if (inOneFace && text === given) {
    doc.text(text, x, y, { width, baseline: -height * ascent });
    return;
  }
  const measured = (word: string) => {
    const pieces = piecesOf(word, face, size);
    return { pieces, width: widthOf(doc, pieces), seen: widthOf(doc, piecesOf(word.trimEnd(), face, size)) };
  };
  // What is held together by a space that does not break, a number and its unit, is one word.
  const words = given.split(/(?<= )/).flatMap((word) => {
    const whole = measured(printable(word));
    // What is longer than a line breaks where it must.
    return whole.seen > width ? [...printable(word)].map(measured) : [whole];
  });
  let [at, line] = [x, y];
  for (const word of words) {
    if (at > x && at + word.seen > x + width) [at, line] = [x, line + height];
    if (line + height > doc.page.maxY()) {
      doc.addPage();
      line = doc.y;
    }
    for (const piece of word.pieces) {
      const baseline = -(height * ascent + piece.drop);
      doc.font(piece.face).fontSize(piece.size);
      doc.text(piece.text, at, line, { lineBreak: false, baseline });
      at += doc.widthOfString(piece.text);
    }
  }
  doc.font(face).fontSize(size);
  doc.x = x;
  doc.y = line + height;
}

/** Writes a part of the sheet at a place. */
export const put = (
  doc: Doc,
  face: Face,
  text: string,
  x: number,
  y: number,
  width: number,
  what: Part = "P",
): void => part(doc, what, () => write(doc, face, text, x, y, width));

/**
 * A new A4 sheet in the faces of the screens, and what it is when it is done. It says what its parts are, and in which language, so that it
 * can be read out.
 */
export function beginPdf(title: string): { doc: Doc; done: Promise<Buffer> } {
  const doc = new PDFDocument({
    size: "A4",
    margin: 50,
    info: { Title: title, Creator: "Brintel" },
    pdfVersion: "1.7",
    tagged: true,
    lang: "en",
    displayTitle: true,
  });
  const chunks: Buffer[] = [];
  const done = new Promise<Buffer>((resolve, reject) => {
    doc.on("data", (chunk: Buffer) => chunks.push(chunk));
    doc.on("end", () => resolve(Buffer.concat(chunks)));
    doc.on("error", reject);
  });
  doc.registerFont("text", fontFile("next", 400));
  doc.registerFont("strong", fontFile("next", 600));
  doc.registerFont("number", fontFile("mono", 400));
  const sheet = doc.struct("Document");
  doc.addStructure(sheet);
  open.set(doc, [sheet]);
  return { doc, done };
}

/** The head of a sheet: what kind of paper it is, its title, its number. */
export function paperHead(doc: Doc, kind: string, title: string, number: string): void {
  doc.fontSize(10).fillColor(quiet);
  put(doc, "text", `Brintel · ${kind}`, page.left, 50, full);
  doc.fontSize(22).fillColor(ink);
  put(doc, "strong", title, page.left, doc.y, full, "H1");
  doc.fontSize(8).fillColor(quiet);
  put(doc, "number", number, page.left, doc.y, full);
  doc.moveDown(0.8);
}

/** The heading of a section. */
export function heading(doc: Doc, text: string, size: number): void {
  doc.fontSize(size).fillColor(ink);
  put(doc, "strong", text, page.left, doc.y, full, "H2");
}

/** Begins a new page when less than so much is left. */
export function room(doc: Doc, points: number): void {
  if (doc.y + points > page.bottom) doc.addPage();
}

/** Facts with their names, one a line. */
export function pairs(doc: Doc, rows: readonly [string, string][], labelWidth: number): void {
  if (rows.length === 0) return;
  group(doc, "L", () => {
    for (const [label, value] of rows) {
      room(doc, 16);
      group(doc, "LI", () => {
        const y = doc.y;
        doc.fontSize(9.5).fillColor(quiet);
        put(doc, "text", label, page.left, y, labelWidth - 6, "Lbl");
        const afterLabel = doc.y;
        doc.fillColor(ink);
        put(doc, "number", value, page.left + labelWidth, y, full - labelWidth, "LBody");
        doc.y = Math.max(afterLabel, doc.y) + 2;
      });
    }
  });
}

/** A table whose columns are so wide; a row as high as its longest cell, or so high at least. */
export function table(
  doc: Doc,
  widths: readonly number[],
  columns: readonly string[],
  rows: readonly string[][],
  least = 0,
): void {
  const line = (cells: readonly string[], what: "TH" | "TD") =>
    group(doc, "TR", () => {
      room(doc, 26);
      const y = doc.y;
      let x = page.left;
      let lowest = y;
      for (const [i, cell] of cells.entries()) {
        const width = widths[i] ?? 60;
        doc.fontSize(what === "TH" ? 8.5 : 8).fillColor(what === "TH" ? quiet : ink);
        put(doc, what === "TH" ? "text" : "number", cell, x, y, width - 6, what);
        lowest = Math.max(lowest, doc.y);
        x += width;
      }
      doc.y = Math.max(lowest, y + (what === "TD" ? least : 0)) + 3;
    });
  group(doc, "Table", () => {
    line(columns, "TH");
    for (const row of rows) {
      line(row, "TD");
      if (least) {
        rule(doc, page.left, page.right, quiet, 0.4);
        doc.y += 3;
      }
    }
  });
}
