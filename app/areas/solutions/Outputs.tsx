import { formatSignificant } from "../../../core/quantity/format";
import { VerdictMark } from "../../ui/VerdictMark";

const units: [ending: RegExp, unit: string][] = [
  [/_mv_per_ph$/, "mV/pH"],
  [/_mv$/, "mV"],
  [/_us_cm$/, "µS/cm"],
  [/_mg_l$/, "mg/L"],
  [/_hpa$/, "hPa"],
  [/_percent$/, "%"],
  [/^percent_/, "%"],
  [/_ml$/, "mL"],
  [/_g_mol$/, "g/mol"],
  [/_mol_l$/, "mol/L"],
  [/_g$/, "g"],
  [/_l$/, "L"],
  [/_m$/, "m"],
  [/_s$/, "s"],
  [/_c$/, "°C"],
  [/(^|_)ph$/, "pH"],
];

/** A fixed name of an output as words and its unit. */
function named(key: string): { label: string; unit: string } {
  const found = units.find(([ending]) => ending.test(key));
  const label = found ? key.replace(found[0], "") : key;
  return { label: (label || "pH").replaceAll("_", " "), unit: found?.[1] ?? "" };
}

const shown = (value: number) => formatSignificant(Math.abs(value) < 1e-9 ? 0 : value, 4);

type Cell = string | number | boolean | null;
const isCell = (value: unknown): value is Cell => value === null || typeof value !== "object";
const words = (value: Cell): string =>
  value === null
    ? "–"
    : typeof value === "number"
      ? shown(value)
      : typeof value === "boolean"
        ? value
          ? "yes"
          : "no"
        : value;

/** More numbers than this are read as a list, not at a glance. */
const fewNumbers = 5;

/** The numbers of an answer with their units: large when they are few; what comes in rows as a table, first. */
export function Outputs({
  outputs,
  inputs,
  given,
}: {
  outputs: Record<string, unknown>;
  /** What was put in: what was worked out of it stands first. */
  given: Readonly<Record<string, unknown>>;
  /** What an output is called that is an input too: one of four that is worked out. */
  inputs: Readonly<Record<string, { title?: string; unit?: string }>>;
}) {
  const called = (key: string) => {
    const { label, unit } = named(key);
    return { label: inputs[key]?.title ?? label, unit: inputs[key]?.unit ?? unit };
  };
  const single = Object.entries(outputs)
    .filter((entry): entry is [string, Cell] => isCell(entry[1]) && entry[0] !== "verdict")
    .sort(([a], [b]) => Number(given[a] !== undefined) - Number(given[b] !== undefined));
  const lists = Object.entries(outputs).flatMap(([key, value]) =>
    Array.isArray(value) && value.length > 0 ? [[key, value as unknown[]] as const] : [],
  );
  // What comes in rows is what was asked for; a row of sentences explains the numbers and stands behind them.
  const tables = lists.flatMap(([key, list]) => (isTable(list) ? [[key, list] as const] : []));
  const large = single.length <= fewNumbers;
  return (
    <>
      {tables.map(([key, list]) => (
        <OutputTable key={key} name={called(key).label} rows={list} />
      ))}
      <div className="resultline">
        {"verdict" in outputs && <VerdictMark verdict={outputs.verdict as "sound"} size={26} word />}
        {large &&
          single.map(([key, value]) => (
            <div className="figure" key={key}>
              <b>
                {words(value)} <small>{called(key).unit}</small>
              </b>
              <span>{called(key).label}</span>
            </div>
          ))}
      </div>
      {!large && (
        <dl className="rows">
          {single.map(([key, value]) => (
            <div key={key}>
              <dt>{called(key).label}</dt>
              <dd className="m">
                <b>{words(value)}</b> {called(key).unit}
              </dd>
            </div>
          ))}
        </dl>
      )}
      {lists.map(([key, list]) => !isTable(list) && <OutputList key={key} name={called(key)} list={list} />)}
    </>
  );
}

type Row = Record<string, unknown>;
const isTable = (list: readonly unknown[]): list is Row[] =>
  list.every((v) => !isCell(v) && typeof (v as Row).sentence !== "string");

/** Several values of one kind in a line, sentences below one another. */
function OutputList({ name, list }: { name: { label: string; unit: string }; list: readonly unknown[] }) {
  if (list.every(isCell)) {
    return (
      <p>
        <span className="quiet small">{name.label}</span>{" "}
        <span className="m">{list.map((v) => words(v as Cell)).join(" · ")}</span> {name.unit}
      </p>
    );
  }
  return (
    <ul className="points">
      {list.map((row, i) => (
        <li key={i}>{String((row as Row).sentence)}</li>
      ))}
    </ul>
  );
}

function OutputTable({ name, rows }: { name: string; rows: readonly Row[] }) {
  const columns = Object.keys(rows[0] ?? {}).filter((k) => rows.every((r) => isCell(r[k])));
  return (
    <div className="scroll-x">
      <table className="figures">
        <caption className="hidden">{name}</caption>
        <thead>
          <tr>
            {columns.map((c) => (
              <th scope="col" key={c}>
                {named(c).label}
                {named(c).unit ? `, ${named(c).unit}` : ""}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row, i) => (
            <tr key={i}>
              {columns.map((c) => (
                <td key={c} className="m">
                  {words(row[c] as Cell)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
