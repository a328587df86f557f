import "./labels.css";
import { QRCode } from "antd";
import { Link } from "react-router";
import type { Hazard } from "../../core/stock/hazards";
import { Pictograms } from "./Pictograms";

export interface Label {
  id: string;
  code: string;
  /** What stands below the code, a line each. */
  lines: string[];
  hazards?: readonly Hazard[];
}

/** Labels as a sheet to be printed; the code in the square is the id of what it names. */
const LabelSheet = ({ labels }: { labels: readonly Label[] }) => (
  <div className="label-sheet">
    {labels.map((l) => (
      <article key={l.id} className="label">
        <QRCode value={l.id} type="svg" size={92} bordered={false} color="#000" bgColor="#fff" />
        <div>
          <b className="m">{l.code}</b>
          {l.lines.map((line) => (
            <p key={line}>{line}</p>
          ))}
          <Pictograms hazards={l.hazards ?? []} />
        </div>
      </article>
    ))}
  </div>
);

/** A page of labels, on the screen as it will be printed, with its ways out. */
export const LabelPage = ({
  labels,
  back,
}: {
  labels: readonly Label[];
  back: { to: string; words: string };
}) => (
  <main className="paper-page stack">
    <div className="cluster no-print">
      <button type="button" className="act" onClick={() => window.print()}>
        Print them
      </button>
      <Link to={back.to} className="calm">
        {back.words}
      </Link>
    </div>
    <LabelSheet labels={labels} />
  </main>
);

/** What people sign with. Check value: "Noor Haddow" is NH. */
export const initials = (name: string): string =>
  name
    .split(/\s+/)
    .map((w) => w[0]?.toUpperCase() ?? "")
    .join("");
