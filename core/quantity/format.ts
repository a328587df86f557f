import { decimalsOf, type Unit } from "./unit";

const MINUS = "−";
const THIN_SPACE = "\u202f";

/** Thin spaces between the thousands of a number that has more than four digits before its point. */
function grouped(fixed: string): string {
  const [whole = "", fraction] = fixed.split(".");
  const spaced = whole.length > 4 ? whole.replace(/\B(?=(\d{3})+$)/g, THIN_SPACE) : whole;
  return fraction === undefined ? spaced : `${spaced}.${fraction}`;
}

/**
 * A number with a fixed count of decimals, a true minus sign and thin spaces between thousands.
 * A value that rounds to zero carries no sign. Check value: `formatNumber(-12890.04, 1)` is "−12 890.0" (thin space).
 */
export function formatNumber(value: number, decimals: number): string {
  if (!Number.isFinite(value)) return "–";
  const fixed = Math.abs(value).toFixed(decimals);
  const digits = Math.abs(value) < 9999 ? fixed : grouped(fixed);
  return value < 0 && /[1-9]/.test(digits) ? `${MINUS}${digits}` : digits;
}

/** A number with the digits it was given with. Check value: `formatOwnDigits(0.2)` is "0.2". */
export const formatOwnDigits = (value: number): string =>
  formatNumber(value, (String(value).split(".")[1] ?? "").length);

/** A number with its unit, at the unit's usual decimals unless told otherwise. Check value: "−4.6 mV". */
export function formatQuantity(value: number, unit: Unit, decimals = decimalsOf(unit)): string {
  return unit === "pH" ? `pH ${formatNumber(value, decimals)}` : `${formatNumber(value, decimals)} ${unit}`;
}

/** A count with its noun. Check value: `counted(1, "reading")` is "1 reading". */
export const counted = (count: number, noun: string): string =>
  `${formatNumber(count, 0)} ${noun}${count === 1 ? "" : "s"}`;

/** A difference with its sign always shown. Check value: `formatSigned(0.04, 2)` is "+0.04". */
export function formatSigned(value: number, decimals: number): string {
  const text = formatNumber(value, decimals);
  return value > 0 && /[1-9]/.test(text) ? `+${text}` : text;
}

/**
 * A number rounded to significant figures, written without an exponent where that reads well.
 * Check value: `formatSignificant(1.2159, 3)` is "1.22".
 */
export function formatSignificant(value: number, figures: number): string {
  if (value === 0 || !Number.isFinite(value)) return formatNumber(value, 0);
  const magnitude = Math.floor(Math.log10(Math.abs(value)));
  if (magnitude > 9 || magnitude < -6) return value.toPrecision(figures).replace("-", MINUS);
  const decimals = Math.max(0, figures - 1 - magnitude);
  const rounded = Number(value.toPrecision(figures));
  return formatNumber(rounded, Math.min(decimals, 12));
}

/**
 * A number with its uncertainty, both to the second figure of the uncertainty; to four figures where nothing is unsure.
 * Source: GUM 7.2.6. Check value: `formatWithUncertainty(0.0248337, 0.0000301)` is "0.024834 ± 0.000030".
 */
export function formatWithUncertainty(value: number, uncertainty: number): string {
  if (!(uncertainty > 0) || !Number.isFinite(uncertainty)) return formatSignificant(value, 4);
  const decimals = Math.min(12, Math.max(0, 1 - Math.floor(Math.log10(Number(uncertainty.toPrecision(2))))));
  return `${formatNumber(value, decimals)} ± ${formatNumber(uncertainty, decimals)}`;
}

/** A share as a percentage of two figures. Check value: `formatPercent(0.00088)` is "0.088 %". */
export const formatPercent = (share: number): string => `${formatSignificant(share * 100, 2)} %`;
