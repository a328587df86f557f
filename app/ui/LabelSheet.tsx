import "./labels.css";
import { QRCode } from "antd";

export interface Label {
  id: string;
  code: string;
  /** What stands below the code, a line each. */
  lines: string[];
}

/** Labels as a sheet to be printed; the code in the square is the sample's id. */
export const LabelSheet = ({ labels }: { labels: readonly Label[] }) => (
  <div className="label-sheet">
    {labels.map((l) => (
      <article key={l.id} className="label">
        <QRCode value={l.id} type="svg" size={92} bordered={false} color="#000" bgColor="#fff" />
        <div>
          <b className="m">{l.code}</b>
          {l.lines.map((line) => (
            <p key={line}>{line}</p>
          ))}
        </div>
      </article>
    ))}
  </div>
);

/** What people sign with. Check value: "Noor Haddow" is NH. */
export const initials = (name: string): string =>
  name
    .split(/\s+/)
    .map((w) => w[0]?.toUpperCase() ?? "")
    .join("");
