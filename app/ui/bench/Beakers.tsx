import { currentStation, type Station } from "../../../core/bench/station";

export interface NamedStation extends Station {
  /** Short text on the beaker: a buffer's pH, or the portion's number. */
  label: string;
  /** What stands below it once it is done or while it waits. */
  below: string;
  /** What this group of steps is for, where a meter measures several things. */
  group?: string;
  /** Air, a weighing: nothing stands in a beaker of water. */
  dry?: boolean;
}

/** The way of the probe: each solution with the rinse before it; done, in hand, or still to come. */
export function Beakers({ stations }: { stations: readonly NamedStation[] }) {
  const current = currentStation(stations);
  const group = (stations[current] ?? stations.at(-1))?.group;
  const groups = [...new Set(stations.flatMap((s) => s.group ?? []))];
  return (
    <>
      {groups.length > 1 && <Groups names={groups} inHand={current < stations.length ? group : undefined} />}
      <ol className="beakers" aria-label="Steps">
        {stations.map((station, i) =>
          station.group === group ? <Beaker key={i} station={station} inHand={i === current} /> : null,
        )}
      </ol>
    </>
  );
}

/** A meter that measures several things goes through them one by one; the one in hand is open below. */
function Groups({ names, inHand }: { names: string[]; inHand: string | undefined }) {
  const at = inHand === undefined ? names.length : names.indexOf(inHand);
  return (
    <ol className="groups" aria-label="What is calibrated">
      {names.map((name, i) => (
        <li key={name} className={i < at ? "done" : i === at ? "current" : "later"}>
          {name}
        </li>
      ))}
    </ol>
  );
}

function Beaker({ station, inHand }: { station: NamedStation; inHand: boolean }) {
  const state = station.capture ? "done" : station.skipped ? "skipped" : inHand ? "current" : "later";
  const inSolution = state === "current" && station.placed_at !== null;
  return (
    <li className={state} aria-current={state === "current" ? "step" : undefined}>
      <span className={`rinse ${station.rinsed_at ? "ticked" : ""}`}>
        <svg width="26" height="26" viewBox="0 0 26 26" aria-hidden="true">
          <circle cx="13" cy="13" r="11" />
          {station.rinsed_at && <path d="M8 13l4 4 7-8" />}
        </svg>
        <span>{station.rinsed_at ? "rinsed" : station.capture ? "not ticked" : "rinse"}</span>
      </span>
      <span className="beaker">
        <svg width="72" height="84" viewBox="0 0 72 84" aria-hidden="true">
          {!station.dry && <path className="water" d="M4 40h64v32a8 8 0 0 1-8 8H12a8 8 0 0 1-8-8z" />}
          <path className="glass" d="M2 18h68v56a9 9 0 0 1-9 9H11a9 9 0 0 1-9-9z" />
          {inSolution && (
            <>
              <path className="probe" d="M36 2v52M28 2h16" />
              <circle className="bulb" cx="36" cy="58" r="6" />
            </>
          )}
        </svg>
        {!inSolution && <b className="m">{station.label}</b>}
      </span>
      <span className="below">
        {inSolution && <b className="m">{station.label}</b>}
        {station.below}
      </span>
    </li>
  );
}
