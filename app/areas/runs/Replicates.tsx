import type { Standing } from "../../../core/runs/inHand";
import { showSeconds } from "../../ui/time";

/** The replicates that are not complete, as places on the bench: which one is in hand, and what the others wait for. */
export function Replicates({
  standings,
  inHand,
  now,
  choose,
}: {
  standings: readonly Standing[];
  inHand: number;
  now: number;
  choose: (replicate: number) => void;
}) {
  return (
    <fieldset className="replicates" aria-label="Replicates">
      {standings.map(({ replicate, wait, kind }) => (
        <button
          key={replicate}
          type="button"
          className={`calm ${replicate === inHand ? "strong" : ""} ${kind}`}
          aria-pressed={replicate === inHand}
          disabled={kind === "waiting" && replicate !== inHand}
          onClick={() => choose(replicate)}
        >
          <b className="m">{replicate + 1}</b>{" "}
          {wait && kind === "waiting" ? (
            <span className="m">{showSeconds(Math.ceil((wait.due - now) / 1000))}</span>
          ) : (
            <span>{kind === "due" ? "now" : replicate === inHand ? "in hand" : "ready"}</span>
          )}
        </button>
      ))}
    </fieldset>
  );
}
