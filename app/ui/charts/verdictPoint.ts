import type { Verdict } from "../../../core/judgement/finding";
import { cssColour } from "./setup";

const size = 15;
/** Where a verdict's ring begins and ends, in turns from the right, clockwise: closed, notched, half open. */
const rings: Record<Verdict, [number, number]> = {
  sound: [0, 1],
  qualified: [-0.06, 0.8],
  held: [0.25, 0.75],
  void: [0, 1],
};

/** The shape of a verdict as a chart draws a point; the same shapes as everywhere else, never colour alone. */
export function verdictPoint(verdict: Verdict): HTMLCanvasElement {
  const canvas = document.createElement("canvas");
  canvas.width = size;
  canvas.height = size;
  const pen = canvas.getContext("2d");
  if (!pen) return canvas;
  const colour = cssColour(`--${verdict}`);
  pen.strokeStyle = colour;
  pen.fillStyle = colour;
  pen.lineWidth = 2.2;
  const [from, to] = rings[verdict];
  pen.beginPath();
  pen.arc(size / 2, size / 2, 4.6, from * 2 * Math.PI, to * 2 * Math.PI);
  pen.stroke();
  if (verdict === "qualified") {
    pen.beginPath();
    pen.arc(size / 2 + 3.4, size / 2 - 3.4, 1.1, 0, 2 * Math.PI);
    pen.fill();
  }
  if (verdict === "void") {
    pen.beginPath();
    pen.moveTo(3, size - 3);
    pen.lineTo(size - 3, 3);
    pen.stroke();
  }
  return canvas;
}
