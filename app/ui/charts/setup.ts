import {
  CategoryScale,
  Chart,
  Filler,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  ScatterController,
  Tooltip,
} from "chart.js";
import { formatNumber } from "../../../core/quantity/format";
import type { timeAxis } from "./timeAxis";

// Only what the charts use is registered, so that the chart code stays small.
Chart.register(
  CategoryScale,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  ScatterController,
  Tooltip,
  Filler,
);
Chart.defaults.animation = false;
Chart.defaults.maintainAspectRatio = false;

/** A colour of the style sheet, as the chart canvas needs it. */
export const cssColour = (name: string): string =>
  getComputedStyle(document.documentElement).getPropertyValue(name).trim();

/** The number at a mark as it is written everywhere else, with as many decimals as its neighbours need. */
function numberAt(value: number | string, _index: number, marks: readonly { value: number }[]): string {
  const decimals = marks.map((m) => (String(Number(m.value.toPrecision(12))).split(".")[1] ?? "").length);
  return formatNumber(Number(value), Math.min(8, Math.max(0, ...decimals)));
}

/** The quiet look shared by every chart of numbers: thin grid, mono figures. */
export function quietAxis(title?: string) {
  return {
    grid: { color: cssColour("--line2"), drawTicks: false },
    border: { display: false },
    ticks: {
      color: cssColour("--ink3"),
      font: { family: "Atkinson Hyperlegible Mono Variable, Brintel Signs", size: 11.5 },
      maxTicksLimit: 5,
      padding: 6,
      callback: numberAt,
    },
    ...(title
      ? {
          title: {
            display: true,
            text: title,
            color: cssColour("--ink3"),
            font: { family: "Atkinson Hyperlegible Next Variable, Brintel Signs", size: 12 },
          },
        }
      : {}),
  };
}

/** The axis of time in the same quiet look: marks that never turn, and fewer of them where there is no room. */
export function quietTimeAxis({ label, ...axis }: ReturnType<typeof timeAxis>) {
  const quiet = quietAxis();
  const ticks = { ...quiet.ticks, maxTicksLimit: 9, maxRotation: 0, autoSkipPadding: 12, callback: label };
  return { ...axis, ...quiet, ticks };
}
