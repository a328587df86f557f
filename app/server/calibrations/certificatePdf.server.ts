import type { Certificate } from "../../../core/calibration/certificate";
import {
  beginPdf,
  type Doc,
  full,
  heading,
  ink,
  page,
  pairs,
  paperHead,
  put,
  quiet,
  room,
  rule,
  table,
} from "../platform/paperPdf.server";

const widths = [118, 62, 108, 98, 48, 61];

/** Draws a certificate on A4: what was calibrated, each measurand with its figures, standards and findings. */
export function certificatePdf(certificate: Certificate): Promise<Buffer> {
  const { doc, done } = beginPdf(certificate.title);
  paperHead(doc, "calibration certificate", certificate.title, certificate.number);
  pairs(doc, certificate.facts, 130);
  for (const section of certificate.sections) drawSection(doc, section);
  doc.moveDown(0.8).fontSize(9).fillColor(quiet);
  for (const line of certificate.closing) put(doc, "text", line, page.left, doc.y, full);
  room(doc, 60);
  doc.moveDown(2.4).fontSize(9).fillColor(quiet);
  put(doc, "text", "Signed", page.left, doc.y, full);
  rule(doc, page.left + 45, page.left + 260, quiet, 0.6);
  doc.end();
  return done;
}

function drawSection(doc: Doc, section: Certificate["sections"][number]): void {
  room(doc, 150);
  doc.moveDown(0.9);
  rule(doc, page.left, page.right, ink, 1);
  doc.moveDown(0.4);
  heading(doc, `${section.title}: ${section.verdict}`, 15);
  doc.fontSize(10).fillColor(quiet);
  put(doc, "text", section.valid, page.left, doc.y, full);
  doc.moveDown(0.4);
  pairs(doc, section.figures, 190);
  doc.moveDown(0.5);
  table(doc, widths, section.columns, section.rows);
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
