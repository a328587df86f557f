import { ulid } from "ulid";
import { counted, formatOwnDigits } from "../../../core/quantity/format";
import { fillWords } from "../../../core/samples/bottleTypes";
import { deepest_cm } from "../../../core/samples/clarity";
import { ofWaiting, samplingFindings } from "../../../core/samples/visitFindings";
import { bottleStep } from "../../../core/samples/visitTodo";
import { localDate } from "../../../core/time/local";
import { showTime } from "../../../core/time/words";
import type { LoadedVisit } from "../../server/visits/visits.server";
import { DueMark } from "../../ui/DueMark";
import { sampleName } from "../../ui/sampleName";
import type { CardProps } from "./cardProps";
import { TypedValue } from "./TypedValue";

/** A code that fits on a label: what the house calls the water, the hour of the visit, and the place of the bottle in it. */
const codeOf = (site: string, at: string, zone: string, index: number): string =>
  `${sampleName(site, localDate(at, zone))}-${showTime(at, zone).replace(":", "")}-${index + 1}`;

/** A bottle is led step by step by its type: rinse, fill, look for a bubble, filter, dose, onto ice. */
export function BottleCard({ todo, state, loaded, add }: CardProps & { loaded: LoadedVisit }) {
  const index = todo.bottle ?? 0;
  const bottle = state.bottles[index];
  const type = state.plan.bottles[index];
  if (!bottle || !type) return null;
  const full = bottle.filled_at !== null;
  const step = bottleStep(type, bottle);
  // What the next steps ask for is not missing yet.
  const owed = step === null ? [] : ["not-filtered", ...ofWaiting];
  const findings = samplingFindings(state, index).filter((f) => !owed.includes(f.rule));
  return (
    <>
      {type.caution && (
        <p className="note">
          <DueMark /> <span>{type.caution}</span>
        </p>
      )}
      {step === "rinse" && (
        <>
          <p>
            Rinse with the water it will hold, lid too; empty it downstream.{" "}
            <b>
              {bottle.rinses} of {counted(type.rinses, "time")}
            </b>
          </p>
          <button type="button" className="act" onClick={() => add({ type: "rinsed", bottle: index })}>
            Rinsed
          </button>
        </>
      )}
      {!full && (
        <Fill
          late={step === "rinse"}
          words={fillWords[type.fill]}
          well={state.plan.well !== null}
          depth_cm={state.plan.depth_cm}
          code={
            bottle.sample?.code ??
            state.plan.labels[index]?.code ??
            codeOf(state.site.name, state.started_at, loaded.zone, index)
          }
          onFilled={(code, depth_cm) =>
            add({
              type: "filled",
              bottle: index,
              sample: { id: bottle.sample?.id ?? state.plan.labels[index]?.id ?? ulid(), code },
              depth_cm,
            })
          }
        />
      )}
      {full && <p className="m visit-code">{bottle.sample?.code}</p>}
      {full && type.fill === "brim" && !bottle.fixed_at && (
        <>
          <p>{type.pair ? "Look at both bottles: one bubble empties both." : "Look for a bubble."}</p>
          <div className="cluster">
            <button
              type="button"
              className="calm strong"
              onClick={() => add({ type: "bubble", bottle: index })}
            >
              A bubble: {type.pair ? "both emptied" : "emptied"}
            </button>
          </div>
        </>
      )}
      {step === "filter" && type.filter && (
        <>
          <p>
            A fresh filter of {type.filter.pore_um} µm, without a tear; flush it with {type.filter.flush_ml}{" "}
            mL. Take it off before the plunger is drawn.
          </p>
          <div className="cluster">
            <button
              type="button"
              className="act"
              onClick={() => add({ type: "filtered", bottle: index, outcome: "filtered" })}
            >
              Filtered
            </button>
            <button
              type="button"
              className="calm strong"
              onClick={() => add({ type: "filtered", bottle: index, outcome: "too-turbid" })}
            >
              Too turbid to filter
            </button>
          </div>
        </>
      )}
      {step === "fix" && (
        <>
          <p>
            {type.pair ? "No bubble in either: dose both, one after the other" : "Dose it"}:{" "}
            {type.preservative}.
          </p>
          <button type="button" className="act" onClick={() => add({ type: "fixed", bottle: index })}>
            {type.pair ? "Both are dosed" : "It is dosed"}
          </button>
        </>
      )}
      {step === "store" && (
        <button type="button" className="act" onClick={() => add({ type: "stored", bottle: index })}>
          On ice and in the dark
        </button>
      )}
      {findings.map((f) => (
        <p key={f.rule} className="note">
          <DueMark />{" "}
          <span>
            {f.sentence} {f.action}
          </span>
        </p>
      ))}
    </>
  );
}

function Fill({
  late,
  words,
  well,
  code,
  depth_cm,
  onFilled,
}: {
  /** Rinses are still owed: filling is possible, and is said. */
  late: boolean;
  words: string;
  well: boolean;
  code: string;
  /** How deep a sample is to be taken. */
  depth_cm: number;
  onFilled(code: string, depth_cm: number | null): void;
}) {
  const action = late ? "Filled without more rinsing" : "Filled";
  return (
    <>
      <p>
        Fill {words}.{well ? "" : " In the current, facing upstream, never scraping the bed."}
      </p>
      <p>
        On its label: <b className="m">{code}</b>
      </p>
      {well ? (
        <button type="button" className={late ? "calm strong" : "act"} onClick={() => onFilled(code, null)}>
          {action}
        </button>
      ) : (
        <TypedValue
          label="Depth below the surface"
          unit="cm"
          range={[0.1, deepest_cm]}
          hint={`About ${formatOwnDigits(depth_cm)} cm; half the depth where it is shallow.`}
          action={action}
          calm={late}
          onValue={(cm) => onFilled(code, cm)}
          onNothing={() => onFilled(code, null)}
        />
      )}
    </>
  );
}
