import type { Method } from "../../core/methods/method";
import { counted } from "../../core/quantity/format";
import { duration } from "../../core/time/words";

/** A method as its run card reads: every step in order, waits with their clock. */
export function MethodCard({ method }: { method: Pick<Method, "steps" | "sample" | "materials"> }) {
  const names = new Map(method.steps.map((s, i) => [s.id, i + 1]));
  return (
    <section className="sheet method-card" aria-label="The card">
      <p className="quiet">
        {method.sample.volume_ml} mL, {method.sample.container}.
        {method.materials.length > 0 &&
          ` Takes ${method.materials.map((m) => m.name.toLowerCase()).join(", ")}.`}
      </p>
      <ol>
        {method.steps.map((step) => (
          <li key={step.id} className={step.kind}>
            {step.kind === "wait" ? (
              <>
                <b className="m">
                  {duration(step.seconds)}
                  {step.exact ? ` ± ${duration(step.window_s)}` : " or more"}
                </b>{" "}
                <span className="quiet">
                  after step {names.get(step.from)}
                  {step.cold ? ", longer in the cold" : ""}. {step.text}
                </span>
              </>
            ) : (
              <>
                {step.text}{" "}
                <span className="quiet small m">
                  {step.kind === "do" && step.rinses > 0 && `${counted(step.rinses, "rinse")}, `}
                  {duration(step.hands_s)}
                </span>
              </>
            )}
          </li>
        ))}
      </ol>
    </section>
  );
}
