import { Checkbox } from "antd";
import { flaskVolumes, pipetteVolumes } from "../../../core/reference/glassware";
import { useDrafts } from "../../ui/drafts";

/** The pieces of the cupboard, kept in this browser. */
export function useGlassware() {
  const drafts = useDrafts("glassware");
  const read = (name: string, all: readonly number[]) => {
    const kept = drafts.get(name);
    return kept === ""
      ? [...all]
      : kept
          .split(" ")
          .map(Number)
          .filter((v) => all.includes(v));
  };
  const keep = (name: string) => (volumes: number[]) => drafts.set(name, volumes.join(" ") || "none");
  return {
    pipettes: read("pipettes", pipetteVolumes),
    flasks: read("flasks", flaskVolumes),
    setPipettes: keep("pipettes"),
    setFlasks: keep("flasks"),
  };
}

/** The sizes that there are, to be ticked. */
export const Pieces = ({
  title,
  all,
  chosen,
  onChoose,
}: {
  title: string;
  all: readonly number[];
  chosen: readonly number[];
  onChoose(volumes: number[]): void;
}) => (
  <fieldset className="pieces">
    <legend>{title}</legend>
    <div className="cluster">
      {all.map((volume) => (
        <Checkbox
          key={volume}
          checked={chosen.includes(volume)}
          onChange={(e) =>
            onChoose(all.filter((v) => (v === volume ? e.target.checked : chosen.includes(v))))
          }
        >
          <span className="m">{volume}</span>
        </Checkbox>
      ))}
    </div>
  </fieldset>
);
