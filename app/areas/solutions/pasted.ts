import { readValue } from "../../../core/quantity/entry";
import { unitNamed } from "../../../core/quantity/unit";

/** Cells of a text as a spreadsheet copies it: lines of cells between tabs, or between semicolons; null when it is one cell. */
export function pastedCells(text: string): string[][] | null {
  const lines = text.replace(/\r\n?/g, "\n").replace(/\n+$/, "").split("\n");
  const between = text.includes("\t") ? "\t" : ";";
  const cells = lines.map((line) => line.split(between).map((cell) => cell.trim()));
  return cells.length === 1 && cells[0]?.length === 1 ? null : cells;
}

/** A typed cell as a calculator takes it; what is no number where one belongs stays a text, which is then refused in words. */
export function cellValue(
  text: string,
  { type = "number", unit = "" }: { type?: string; unit?: string },
): number | string | boolean | undefined {
  if (type === "boolean") return text === "true";
  if (text.trim() === "") return undefined;
  if (type === "string") return text;
  const read = readValue(text, unitNamed(unit));
  return "value" in read ? read.value : text.trim();
}
