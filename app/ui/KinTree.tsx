import "./kinTree.css";
import { Link } from "react-router";
import type { Kin } from "../../core/stock/descent";

/** Lots that rest on each other, as a tree of links. */
export const KinTree = ({ kin }: { kin: readonly Kin[] }) => (
  <ul>
    {kin.map((k) => (
      <li key={`${k.id} ${k.how}`}>
        <Link to={`/stock/${k.id}`}>{k.code}</Link>{" "}
        <span className="quiet small">
          {k.name}
          {k.how === "standardised" ? ", standardised against it" : ""}
          {k.withdrawn ? ", withdrawn" : ""}
        </span>
        {k.kin.length > 0 && <KinTree kin={k.kin} />}
      </li>
    ))}
  </ul>
);

/** The bottles behind a result that were prepared here: what each was made from, down to what was bought. */
export function BottlesBehind({
  lots,
  behind,
}: {
  lots: readonly { lot_id?: string | null | undefined; code: string }[];
  behind: Readonly<Record<string, Kin[]>>;
}) {
  const own = [...new Map(lots.map((l) => [l.lot_id, l])).values()].flatMap(({ lot_id, code }) =>
    lot_id && behind[lot_id] ? [{ id: lot_id, code, kin: behind[lot_id] }] : [],
  );
  if (own.length === 0) return null;
  return (
    <>
      <h3>Prepared here</h3>
      {own.map(({ id, code, kin }) => (
        <div key={id} className="kin">
          <p className="small">
            <Link to={`/stock/${id}`}>{code}</Link> rests on
          </p>
          <KinTree kin={kin} />
        </div>
      ))}
    </>
  );
}
