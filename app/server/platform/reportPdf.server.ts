import {
  beginPdf,
  type Doc,
  full,
  heading,
  ink,
  page,
  pairs,
  paperHead,
  part,
  put,
  quiet,
  room,
  table,
} from "./paperPdf.server";
import type { Report } from "./report";
import { type Mark, type Plot, plotMarks, plotSize } from "./reportPlot";

/** Draws a report on A4. */
export function reportPdf(report: Report): Promise<Buffer> {
  const { doc, done } = beginPdf(report.title);
  paperHead(doc, report.kind, report.title, report.number);
  pairs(doc, report.facts, 110);
  for (const { title, lines = [], plots = [], table: rows } of report.sections) {
    room(doc, 90);
    doc.moveDown(0.8);
    heading(doc, title, 14);
    doc.moveDown(0.3);
    for (const plot of plots) drawPlot(doc, plot);
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

const strokes = {
  axis: { colour: quiet, width: 0.6 },
  trace: { colour: ink, width: 0.8 },
  level: { colour: quiet, width: 0.5 },
  strong: { colour: ink, width: 0.8 },
};
const standsOut = "#a8431a";
const usual = "#e4ece9";

/** Values in time, with what they are held against. */
function drawPlot(doc: Doc, plot: Plot): void {
  room(doc, plotSize.height + 24);
  doc.fontSize(9.5).fillColor(ink);
  put(doc, "strong", plot.title, page.left, doc.y, full);
  const top = doc.y + 4;
  part(
    doc,
    "Figure",
    () => {
      for (const mark of plotMarks(plot)) drawMark(doc, mark, page.left, top);
    },
    plot.words,
  );
  doc.x = page.left;
  doc.y = top + plotSize.height + 6;
}

function drawMark(doc: Doc, mark: Mark, left: number, top: number): void {
  switch (mark.kind) {
    case "band":
      doc.rect(left + mark.x, top + mark.y, mark.width, mark.height).fill(usual);
      return;
    case "line": {
      const [first, ...rest] = mark.points;
      if (!first || rest.length === 0) return;
      doc.moveTo(left + first[0], top + first[1]);
      for (const [x, y] of rest) doc.lineTo(left + x, top + y);
      doc.strokeColor(strokes[mark.look].colour).lineWidth(strokes[mark.look].width);
      if (mark.look === "level") doc.dash(3, { space: 2 });
      doc.stroke().undash();
      return;
    }
    case "dot":
      // What stands out differs in form too: it is also read without colour.
      if (mark.marked) doc.rect(left + mark.x - 2.6, top + mark.y - 2.6, 5.2, 5.2).fill(standsOut);
      else doc.circle(left + mark.x, top + mark.y, 1.8).fill(ink);
      return;
    case "text": {
      doc.font("number").fontSize(7).fillColor(quiet);
      const width = doc.widthOfString(mark.text);
      const x = mark.end === "left" ? left + mark.x : left + mark.x - width;
      doc.text(mark.text, x, top + mark.y - 3.5, { lineBreak: false });
    }
  }
}
