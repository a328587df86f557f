import "./pieces.css";
import { Checkbox } from "antd";
import { formatOwnDigits } from "../../core/quantity/format";

/** The sizes that there are, to be ticked. */
export const Pieces = ({
  title,
  all,
  chosen,
  onChoose,
  disabled = false,
}: {
  title: React.ReactNode;
  all: readonly number[];
  chosen: readonly number[];
  onChoose(volumes: number[]): void;
  disabled?: boolean;
}) => (
  <fieldset className="pieces">
    <legend>{title}</legend>
    <div className="cluster">
      {all.map((volume) => (
        <Checkbox
          key={volume}
          disabled={disabled}
          checked={chosen.includes(volume)}
          onChange={(e) =>
            onChoose(all.filter((v) => (v === volume ? e.target.checked : chosen.includes(v))))
          }
        >
          <span className="m">{formatOwnDigits(volume)}</span>
        </Checkbox>
      ))}
    </div>
  </fieldset>
);
