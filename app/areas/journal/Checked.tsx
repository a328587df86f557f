import { counted, formatNumber } from "../../../core/quantity/format";
import { showTime } from "../../../core/time/words";
import type { KeptVerification } from "../../server/upkeep/verify.server";

/** What the last check of everything found. */
export function Checked({ last, zone }: { last: KeptVerification | null; zone: string }) {
  if (!last) return <p>Nobody has checked the records yet.</p>;
  const when = `${showTime(last.at, zone, "both")}${last.by ? `, ${last.by}` : ""}`;
  if (last.faults.length === 0) {
    return (
      <p>
        <b>Everything fits.</b> {formatNumber(last.entries, 0)} entries and{" "}
        {counted(last.signed, "signed result")} were checked, {when}.
      </p>
    );
  }
  return (
    <div role="alert" className="stack close">
      <p className="wrong">
        {counted(last.faults.length, "thing")} {last.faults.length === 1 ? "is" : "are"} not as written,{" "}
        {when}.
      </p>
      <ul className="points">
        {last.faults.map((f) => (
          <li key={`${f.what} ${f.id} ${f.sentence}`}>
            {f.what} <span className="m">{f.id}</span>: {f.sentence}
          </li>
        ))}
      </ul>
      <p>Keep this file as it is, and compare it with the last backup that fits.</p>
    </div>
  );
}
