import type { CustodyPaper } from "../../../core/samples/custodyPaper";
import {
  beginPdf,
  full,
  heading,
  page,
  pairs,
  paperHead,
  put,
  quiet,
  room,
  table,
} from "../platform/paperPdf.server";

const sampleWidths = [86, 82, 78, 78, 101, 70];
const handWidths = [82, 106, 88, 54, 65, 100];
/** Room for a signature, in points. */
const signature = 26;

/** Draws the page that travels with a batch on A4. */
export function custodyPdf(paper: CustodyPaper): Promise<Buffer> {
  const { doc, done } = beginPdf(paper.title);
  paperHead(doc, "chain of custody", paper.title, paper.number);
  pairs(doc, paper.facts, 110);
  doc.moveDown(0.6);
  table(doc, sampleWidths, paper.samples.columns, paper.samples.rows, 18);
  room(doc, 160);
  doc.moveDown(0.8);
  heading(doc, "Hands", 15);
  doc.moveDown(0.4);
  table(doc, handWidths, paper.hands.columns, paper.hands.rows, signature);
  doc.moveDown(0.8);
  for (const line of paper.notes) {
    room(doc, 24);
    doc.fontSize(9).fillColor(quiet);
    put(doc, "text", line, page.left, doc.y, full);
  }
  doc.end();
  return done;
}
