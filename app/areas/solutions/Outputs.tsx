import { formatSignificant } from "../../../core/quantity/format";
import { VerdictMark } from "../../shared/VerdictMark";

const units: [ending: RegExp, unit: string][] = [
  [/_mv_per_ph$/, "mV/pH"],
  [/_mv$/, "mV"],
  [/_us_cm$/, "µS/cm"],
  [/_mg_l$/, "mg/L"],
  [/_hpa$/, "hPa"],
  [/_percent$/, "%"],
  [/^percent_/, "%"],
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

/** The numbers of an answer, large, each with its unit; longer findings are in the working. */
export function Outputs({ outputs }: { outputs: Record<string, unknown> }) {
  return (
    <div className="resultline">
      {Object.entries(outputs).map(([key, value]) => {
        const { label, unit } = named(key);
        if (key === "verdict") return <VerdictMark key={key} verdict={value as "sound"} size={26} word />;
        if (typeof value === "string" || typeof value === "boolean") {
          return (
            <div className="figure" key={key}>
              <b>{value === true ? "yes" : value === false ? "no" : value}</b>
              <span>{label}</span>
            </div>
          );
        }
        if (typeof value === "number") {
          return (
            <div className="figure" key={key}>
              <b>
                {shown(value)} <small>{unit}</small>
              </b>
              <span>{label}</span>
            </div>
          );
        }
        return null;
      })}
    </div>
  );
}
