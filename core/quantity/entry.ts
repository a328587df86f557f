import { formatNumber } from "./format";
import type { Found } from "./found";
import { convert, type Unit, unitFromSpelling } from "./unit";

/** The unit of a field; nothing for a plain number, like a factor or a count. */
export type EntryUnit = Unit | "";

/** What a typed entry turned out to mean, with the sentence that is shown before it is kept. */
export type Entry =
  | { kind: "value" | "less-than" | "greater-than" | "approximate"; value: number; understood: string }
  | { kind: "interval"; low: number; high: number; understood: string }
  | { kind: "ambiguous"; choices: number[]; message: string }
  | { kind: "invalid"; message: string };

const numberPattern = "[-−+]?(?:\\d[\\d\\s,.']*|[.,]\\d+)";
const single = new RegExp(`^([<>~≈])?\\s*(${numberPattern})\\s*([^\\d\\s].*)?$`);
const range = new RegExp(
  `^(${numberPattern}?)\\s*(?:-|–|\\.\\.|to)\\s*(${numberPattern})\\s*([^\\d\\s].*)?$`,
);

/** One number as people write it; two readings when a comma is followed by exactly three digits, and led by no bare 0. */
function readNumber(text: string): number[] {
  const plain = text.trim().replaceAll("−", "-").replace(/[\s']/g, "");
  const commas = plain.split(",").length - 1;
  if (commas === 0) return [Number(plain)];
  if (commas > 1 || plain.includes(".")) return [Number(plain.replaceAll(",", ""))];
  const afterComma = plain.split(",")[1] ?? "";
  const asDecimal = Number(plain.replace(",", "."));
  // Nobody groups thousands after a 0: 0,166 is a decimal.
  const grouped = afterComma.length === 3 && /^[-+]?[1-9]/.test(plain);
  return grouped ? [Number(plain.replace(",", "")), asDecimal] : [asDecimal];
}

function decimalsTyped(text: string): number {
  const match = /[.,](\d+)\D*$/.exec(text.trim());
  return match?.[1]?.length ?? 0;
}

/**
 * Understands a typed measurement: `7.4`, `7,4`, `1.32 mS`, `<0.03`, `0.2-0.5`, `~8`.
 * The value comes back in `unit`; a unit that is typed is converted, one of another quantity is refused.
 * A comma followed by exactly three digits is asked about (1,320: 1320 or 1.320?), but for 0,166.
 * Check value: `readEntry("1.32 mS", "µS/cm")` is the value 1320.
 */
export function readEntry(text: string, unit: EntryUnit): Entry {
  const trimmed = text.trim();
  if (trimmed === "") return { kind: "invalid", message: "Type a value." };
  const interval = range.exec(trimmed);
  if (interval?.[1]) return readInterval(interval[1], interval[2] ?? "", interval[3], unit);
  const match = single.exec(trimmed);
  if (!match) return { kind: "invalid", message: `${quoted(trimmed)} is not a number. Type it like 7.02.` };
  const [, sign, numberText = "", unitText] = match;
  const scale = readUnit(unitText, unit);
  if (typeof scale === "string") return { kind: "invalid", message: scale };
  const values = readNumber(numberText).map((value) => value * scale.factor);
  if (values.some((value) => !Number.isFinite(value))) {
    return { kind: "invalid", message: `${quoted(trimmed)} is not a number. Type it like 7.02.` };
  }
  const [value = Number.NaN, other] = values;
  if (other !== undefined) {
    return {
      kind: "ambiguous",
      choices: [value, other],
      message: `${numberText.trim()} can be read two ways. Is it ${formatNumber(value, 0)} or ${formatNumber(other, 3)}?`,
    };
  }
  const shown = `${formatNumber(value, scale.converted ? 2 : decimalsTyped(numberText))} ${unit}`.trim();
  if (sign === "<") return { kind: "less-than", value, understood: `less than ${shown}` };
  if (sign === ">") return { kind: "greater-than", value, understood: `more than ${shown}` };
  if (sign) return { kind: "approximate", value, understood: `about ${shown}` };
  return { kind: "value", value, understood: shown };
}

/** What was typed, said again: of what is long its beginning. */
const quoted = (text: string): string => `“${text.length > 24 ? `${text.slice(0, 24)}…` : text}”`;

function readUnit(
  text: string | undefined,
  unit: EntryUnit,
): { factor: number; converted: boolean } | string {
  if (!text) return { factor: 1, converted: false };
  if (unit === "") return `This is a plain number, without ${quoted(text.trim())}.`;
  const typed = unitFromSpelling(text);
  if (!typed) return `${quoted(text.trim())} is not a unit Brintel knows here. This entry is in ${unit}.`;
  const factor = convert(1, typed, unit);
  if (factor === undefined) {
    return `${quoted(text.trim())} does not fit here. This entry is in ${unit}.`;
  }
  return { factor, converted: factor !== 1 };
}

function readInterval(
  lowText: string,
  highText: string,
  unitText: string | undefined,
  unit: EntryUnit,
): Entry {
  const scale = readUnit(unitText, unit);
  if (typeof scale === "string") return { kind: "invalid", message: scale };
  const [low = Number.NaN, otherLow] = readNumber(lowText);
  const [high = Number.NaN, otherHigh] = readNumber(highText);
  if (otherLow !== undefined || otherHigh !== undefined || !(low < high)) {
    return { kind: "invalid", message: "An interval runs from a smaller to a larger value, like 0.2-0.5." };
  }
  const decimals = Math.max(decimalsTyped(lowText), decimalsTyped(highText));
  return {
    kind: "interval",
    low: low * scale.factor,
    high: high * scale.factor,
    understood:
      `between ${formatNumber(low * scale.factor, decimals)} and ${formatNumber(high * scale.factor, decimals)} ${unit}`.trim(),
  };
}

/** What an entry says of a result: a number, a range, below or above. Errors: the sentence. Check value: "<0.03" is below 0.03. */
export function foundOfEntry(entry: Entry): { found: Found } | { message: string } {
  switch (entry.kind) {
    case "value":
    case "approximate":
      return { found: { kind: "value", value: entry.value } };
    case "less-than":
      return { found: { kind: "below", limit: entry.value } };
    case "greater-than":
      return { found: { kind: "above", limit: entry.value } };
    case "interval":
      return { found: { kind: "interval", low: entry.low, high: entry.high } };
    default:
      return { message: entry.message };
  }
}

/** The single number an entry stands for, or the sentence that says why it does not. */
export function singleValue(entry: Entry): { value: number } | { message: string } {
  if (entry.kind === "value") return { value: entry.value };
  if (entry.kind === "invalid" || entry.kind === "ambiguous") return { message: entry.message };
  return { message: "This needs one plain value, like 7.02." };
}

/**
 * The one reader of a plain number that was typed or imported, in the unit of its field. Errors: a sentence.
 * Check value: "7,4" is 7.4; "1,320" is asked about; "20 °C" in a field of % is refused.
 */
export const readValue = (text: string, unit: EntryUnit): { value: number } | { message: string } =>
  singleValue(readEntry(text, unit));
