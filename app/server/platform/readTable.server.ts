import Papa from "papaparse";

/** A line of a table of text, by the names of its columns. */
interface TableRow {
  /** Which line of the file it is; the first is 1, as a spreadsheet counts them. */
  line: number;
  cells: Record<string, string>;
}

export interface TextTable {
  head: string[];
  rows: TableRow[];
}

/** A column's name is no longer than this. */
const longestName = 120;

/** The names of the columns; one that stands there again is told apart by a number. */
function namesOf(written: readonly string[]): string[] {
  const taken = new Set<string>();
  return written.map((name) => {
    const own = name.trim().slice(0, longestName);
    let told = own;
    for (let n = 1; own !== "" && taken.has(told); n++) told = `${own}_${n}`;
    taken.add(told);
    return told;
  });
}

/**
 * Reads a table of text whose first line names the columns: comma, semicolon or tabs between them. Empty lines are passed over and counted, so that
 * a line is found again in whatever program shows the file. Errors: a sentence that names the line.
 */
export function readTable(written: string): TextTable | { message: string } {
  const text = written.replace(/^\uFEFF/, "");
  const { delimiter } = Papa.parse(text, { preview: 30, skipEmptyLines: "greedy" }).meta;
  const { data, errors } = Papa.parse<string[]>(text, { delimiter });
  const lines = data
    .map((cells, i) => ({ line: i + 1, cells }))
    .filter(({ cells }) => cells.some((cell) => cell.trim() !== ""));
  const [first, ...others] = lines;
  if (!first || others.length === 0)
    return { message: "Its first line names the columns, and at least one line follows." };
  const open = errors.find((e) => e.type === "Quotes");
  if (open?.row !== undefined)
    return {
      message: `In line ${open.row + 1} a quotation mark is opened and not closed as it should be. Look at it again.`,
    };
  const names = namesOf(first.cells);
  const rows: TableRow[] = [];
  for (const { line, cells } of others) {
    if (cells.length !== names.length)
      return { message: `Line ${line} has another number of columns than the first. Look at it again.` };
    rows.push({ line, cells: Object.fromEntries(cells.map((cell, i) => [names[i] as string, cell])) });
  }
  return { head: names.filter(Boolean), rows };
}
