import { Link } from "react-router";
import type { Technique } from "../../../core/methods/method";
import { formatNumber, formatOwnDigits, formatWithUncertainty } from "../../../core/quantity/format";
import type { Kin } from "../../../core/stock/descent";
import type { StandardLot } from "../../../core/stock/standard";
import { standardFacts } from "../../../core/stock/standard";
import type { SupplyLot } from "../../../core/stock/supply";
import { Rows } from "../../ui/EvidencePanel";
import { Formula } from "../../ui/Formula";
import { KinTree } from "../../ui/KinTree";
import { WideTable } from "../../ui/WideTable";

/** The value of a standard by temperature: of its certificate, or as it was made. */
export function Certificate({ lot, own }: { lot: StandardLot; own: boolean }) {
  const { unit, decimals } = standardFacts[lot.kind];
  return (
    <section className="sheet stack close">
      <h2>{own ? "Its value" : "Certificate"}</h2>
      <WideTable name="The certificate">
        <table className="figures m">
          <thead>
            <tr>
              {lot.table.map((row) => (
                <th key={row.temperature_c} className="r">
                  {row.temperature_c} °C
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            <tr>
              {lot.table.map((row) => (
                <td key={row.temperature_c} className="r">
                  {formatNumber(row.value, lot.kind === "ph-buffer" ? 3 : decimals)}
                </td>
              ))}
            </tr>
          </tbody>
        </table>
      </WideTable>
      <p className="quiet small">
        ± {formatNumber(lot.uncertainty, lot.kind === "ph-buffer" ? 3 : Math.max(1, decimals))} {unit}.
        Between two temperatures a straight line is taken.
      </p>
    </section>
  );
}

/** The method that a kit is for, and in what the kit's numbers are. */
interface KitFor {
  id: string;
  name: string;
  technique: Technique;
  unit: string;
}

/** What a reagent, a titrant or a kit brings to the tests it is used in. */
export function Brings({ lot, method }: { lot: SupplyLot; method: KitFor | null }) {
  const { kit, strength } = lot;
  const rows: [string, React.ReactNode][] = [
    ...(lot.serves.length ? [["Used as", lot.serves.join(", ")] as [string, string]] : []),
    ...(lot.formula
      ? [["Formula", <Formula key="f">{lot.formula}</Formula>] as [string, React.ReactNode]]
      : []),
    ...(lot.purity_percent === null
      ? []
      : [["Purity", `${formatOwnDigits(lot.purity_percent)} %`] as [string, string]]),
    ...(strength
      ? [
          ["Strength", `${formatWithUncertainty(strength.value, strength.uncertainty)} ${strength.unit}`] as [
            string,
            string,
          ],
        ]
      : []),
    ...(kit ? kitRows(kit, method) : []),
  ];
  if (rows.length === 0) return null;
  return (
    <section className="sheet stack close">
      <h2>What it brings</h2>
      {kit && (
        <p>
          For {method ? <Link to={`/methods/${method.id}`}>{method.name}</Link> : "a method that is gone"}, by{" "}
          {kit.source}.
        </p>
      )}
      <Rows rows={rows} />
    </section>
  );
}

function kitRows(kit: NonNullable<SupplyLot["kit"]>, method: KitFor | null): [string, string][] {
  const unit = method?.unit ?? "";
  const { table, per_unit, curve, range } = kit;
  const n = formatOwnDigits;
  const rows: [string, string | null][] = [
    ...kit.scales.map((s, i): [string, string] => [
      s.name || (kit.scales.length > 1 ? `Scale ${i + 1}` : "Scale"),
      `${s.steps.map(n).join(" · ")} ${unit}`,
    ]),
    ["Table", table && `${table.map((r) => `${n(r.division)}: ${n(r.value)}`).join(" · ")} ${unit}`],
    method?.technique === "photometer"
      ? ["Factor on the display", per_unit === null ? null : n(per_unit)]
      : ["A drop, a digit or a unit of the scale", per_unit === null ? null : `${n(per_unit)} ${unit}`],
    ["Curve", curve && `A = ${curve.intercept} + ${curve.slope} · c, c in ${unit}`],
    ["Range", range && `${n(range.low)} – ${n(range.high)} ${unit}`],
    ["Program", kit.program || null],
    ...Object.values(kit.waits_s).map((s): [string, string] => ["Waits", `${s} s`]),
    ...Object.values(kit.doses).map((d): [string, string] => ["Dose, as its step counts it", n(d)]),
  ];
  return rows.flatMap(([name, value]) => (value === null ? [] : [[name, value] as [string, string]]));
}

/** What it was made from or standardised against, and what rests on it, as a tree. */
export function Family({ parents, made }: { parents: Kin[]; made: Kin[] }) {
  if (parents.length === 0 && made.length === 0) return null;
  return (
    <section className="stack close" aria-label="What it rests on, and what rests on it">
      <h2>What rests on what</h2>
      {parents.length > 0 && (
        <div className="kin">
          <p className="quiet small">It rests on</p>
          <KinTree kin={parents} />
        </div>
      )}
      {made.length > 0 && (
        <div className="kin">
          <p className="quiet small">On it rest</p>
          <KinTree kin={made} />
        </div>
      )}
    </section>
  );
}
