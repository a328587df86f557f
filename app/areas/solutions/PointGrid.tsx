import { Checkbox, Input } from "antd";
import { useState } from "react";
import type { InputSchema } from "./inputSchema";
import { cellValue, pastedCells } from "./pasted";

type Row = Record<string, unknown>;
type Typed = Record<string, string>;

const typedOf = (row: Row): Typed =>
  Object.fromEntries(
    Object.entries(row).map(([key, value]) => [key, value === undefined ? "" : String(value)]),
  );

/** Rows of things as a compact grid, that takes what a spreadsheet copies from the cell it is pasted into. */
export function PointGrid({
  property,
  rows,
  errors,
  path,
  onChange,
}: {
  property: InputSchema;
  rows: readonly Row[];
  errors: Record<string, string>;
  path: string;
  onChange(rows: Row[]): void;
}) {
  const columns = Object.entries(property.items?.properties ?? {});
  // What was typed stays as it was typed, also where it is no number.
  const [typed, setTyped] = useState<Typed[]>(() => rows.map(typedOf));
  const keep = (next: Typed[]) => {
    setTyped(next);
    onChange(
      next.map((row) => Object.fromEntries(columns.map(([key, c]) => [key, cellValue(row[key] ?? "", c)]))),
    );
  };
  const type = (at: number, key: string, text: string) =>
    keep(typed.map((row, i) => (i === at ? { ...row, [key]: text } : row)));
  const paste = (at: number, column: number, cells: string[][]) => {
    const next = [...typed];
    for (const [i, line] of cells.entries()) {
      const into = { ...next[at + i] };
      for (const [k, cell] of line.entries()) {
        const key = columns[column + k]?.[0];
        if (key) into[key] = cell;
      }
      next[at + i] = into;
    }
    keep(next);
  };
  const wrong = Object.entries(errors).filter(([p]) => p === path || p.startsWith(`${path}.`));
  return (
    <fieldset className="list-field">
      <legend>{property.title}</legend>
      <div className="scroll-x">
        <table className="point-grid">
          <thead>
            <tr>
              <th scope="col">
                <span className="hidden">Row</span>
              </th>
              {columns.map(([key, c]) => (
                <th scope="col" key={key}>
                  {c.title ?? key}
                  {c.unit ? `, ${c.unit}` : ""}
                </th>
              ))}
              <th />
            </tr>
          </thead>
          <tbody>
            {typed.map((row, i) => (
              <tr key={i}>
                <th scope="row" className="quiet small">
                  {i + 1}
                </th>
                {columns.map(([key, c], k) => (
                  <td key={key}>
                    {c.type === "boolean" ? (
                      <Checkbox
                        aria-label={`${c.title ?? key}, row ${i + 1}`}
                        checked={row[key] === "true"}
                        onChange={(e) => type(i, key, String(e.target.checked))}
                      />
                    ) : (
                      <Input
                        className={c.type === "string" ? "" : "m"}
                        size="small"
                        status={errors[`${path}.${i}.${key}`] ? "error" : ""}
                        aria-label={`${c.title ?? key}, row ${i + 1}`}
                        aria-invalid={errors[`${path}.${i}.${key}`] ? true : undefined}
                        inputMode="text"
                        autoComplete="off"
                        value={row[key] ?? ""}
                        onChange={(e) => type(i, key, e.target.value)}
                        onPaste={(e) => {
                          const cells = pastedCells(e.clipboardData.getData("text/plain"));
                          if (!cells) return;
                          e.preventDefault();
                          paste(i, k, cells);
                        }}
                      />
                    )}
                  </td>
                ))}
                <td>
                  <button
                    type="button"
                    className="calm"
                    aria-label={`Remove row ${i + 1}`}
                    onClick={() => keep(typed.filter((_, n) => n !== i))}
                  >
                    ×
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {wrong.map(([p, message]) => (
        <p key={p} className="wrong" role="alert">
          {/\.(\d+)\./.test(p) ? `Row ${Number(/\.(\d+)\./.exec(p)?.[1]) + 1}: ` : ""}
          {message}
        </p>
      ))}
      <div className="cluster no-print">
        <button type="button" className="calm" onClick={() => keep([...typed, {}])}>
          Add a row
        </button>
        <span className="quiet small">Cells of a spreadsheet can be pasted into any cell.</span>
      </div>
    </fieldset>
  );
}
