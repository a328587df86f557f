import { createRequire } from "node:module";
import { dirname, join } from "node:path";
import PDFDocument from "pdfkit";
import type { Certificate } from "../../../core/calibration/certificate";

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

const ink = "#16292e";
const quiet = "#4c6066";
const page = { left: 50, right: 545, bottom: 770 };
const full = page.right - page.left;

/** Characters that the embedded fonts do not draw: thin spaces become plain ones. */
const printable = (text: string): string => text.replace(/[\u202f\u2009\u00a0]/g, " ");

type Doc = InstanceType<typeof PDFDocument>;
type Face = "text" | "strong" | "number";

/** Writes at a place; the micro sign, which the fonts of the screens lack, comes from the reader's own font. */
function put(doc: Doc, face: Face, text: string, x: number, y: number, width: number): void {
  const parts = printable(text).split(/(µ)/).filter(Boolean);
  for (const [i, part] of parts.entries()) {
    doc.font(part === "µ" ? "Helvetica" : face);
    const options = { width, continued: i < parts.length - 1 };
    if (i === 0) doc.text(part, x, y, options);
    else doc.text(part, options);
  }
}

/** Draws a certificate on A4: what was calibrated, each measurand with its figures, standards and findings. */
export function certificatePdf(certificate: Certificate): Promise<Buffer> {
  const doc = new PDFDocument({
    size: "A4",
    margin: 50,
    info: { Title: certificate.title, Creator: "Brintel" },
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
  head(doc, certificate);
  for (const section of certificate.sections) drawSection(doc, section);
  doc.moveDown(0.8).fontSize(9).fillColor(quiet);
  for (const line of certificate.closing) put(doc, "text", line, page.left, doc.y, full);
  room(doc, 60);
  doc.moveDown(2.4).font("text").fontSize(9).fillColor(quiet).text("Signed", page.left, doc.y);
  doc
    .moveTo(page.left + 45, doc.y)
    .lineTo(page.left + 260, doc.y)
    .strokeColor(quiet)
    .lineWidth(0.6)
    .stroke();
  doc.end();
  return done;
}

/** Begins a new page when less than so much is left. */
function room(doc: Doc, points: number): void {
  if (doc.y + points > page.bottom) doc.addPage();
}

function head(doc: Doc, certificate: Certificate): void {
  doc.font("text").fontSize(10).fillColor(quiet).text("Brintel · calibration certificate", page.left, 50);
  doc.font("strong").fontSize(22).fillColor(ink).text(printable(certificate.title));
  doc.font("number").fontSize(8).fillColor(quiet).text(certificate.number).moveDown(0.8);
  pairs(doc, certificate.facts, 130);
}

function pairs(doc: Doc, rows: readonly [string, string][], labelWidth: number): void {
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

function drawSection(doc: Doc, section: Certificate["sections"][number]): void {
  room(doc, 150);
  doc.moveDown(0.9);
  doc.moveTo(page.left, doc.y).lineTo(page.right, doc.y).strokeColor(ink).lineWidth(1).stroke();
  doc.moveDown(0.4).fontSize(15).fillColor(ink);
  put(doc, "strong", `${section.title}: ${section.verdict}`, page.left, doc.y, full);
  doc.fontSize(10).fillColor(quiet);
  put(doc, "text", section.valid, page.left, doc.y, full);
  doc.moveDown(0.4);
  pairs(doc, section.figures, 190);
  doc.moveDown(0.5);
  table(doc, section.columns, section.rows);
  for (const diagnosis of section.diagnoses) {
    room(doc, 30);
    doc.moveDown(0.3).fontSize(9.5).fillColor(ink);
    put(doc, "strong", diagnosis, page.left, doc.y, full);
  }
  doc.moveDown(0.5);
  for (const finding of section.findings) {
    room(doc, 28);
    const y = doc.y;
    doc.fontSize(9).fillColor(ink);
    put(doc, "strong", finding.verdict, page.left, y, 62);
    put(doc, "text", finding.sentence, page.left + 66, y, full - 66);
    doc.fontSize(8).fillColor(quiet);
    put(doc, "number", finding.detail, page.left + 66, doc.y, full - 66);
    doc.y += 3;
  }
}

const widths = [118, 62, 108, 98, 48, 61];

function table(doc: Doc, columns: readonly string[], rows: readonly string[][]): void {
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
    doc.y = lowest + 3;
  };
  line(columns, "text", 8.5);
  for (const row of rows) line(row, "number", 8);
}
