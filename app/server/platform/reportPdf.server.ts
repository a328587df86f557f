import { beginPdf, full, ink, page, pairs, paperHead, put, quiet, room, table } from "./paperPdf.server";
import type { Report } from "./report";

/** Draws a report on A4. */
export function reportPdf(report: Report): Promise<Buffer> {
  const { doc, done } = beginPdf(report.title);
  paperHead(doc, report.kind, report.title, report.number);
  pairs(doc, report.facts, 110);
  for (const { title, lines = [], table: rows } of report.sections) {
    room(doc, 90);
    doc.moveDown(0.8).fontSize(14).fillColor(ink);
    put(doc, "strong", title, page.left, doc.y, full);
    doc.moveDown(0.3);
    for (const line of lines) {
      room(doc, 26);
      doc.fontSize(9.5).fillColor(ink);
      put(doc, "text", line, page.left, doc.y, full);
      doc.y += 2;
    }
    if (rows) {
      const sum = rows.shares.reduce((a, b) => a + b, 0);
      table(
        doc,
        rows.shares.map((s) => (full * s) / sum),
        rows.columns,
        rows.rows,
      );
    }
  }
  doc.moveDown(0.8);
  for (const line of report.closing) {
    room(doc, 24);
    doc.fontSize(8.5).fillColor(quiet);
    put(doc, "text", line, page.left, doc.y, full);
  }
  doc.end();
  return done;
}
