import { useEffect, useMemo, useState } from "react";
import { readValue } from "../../../core/quantity/entry";
import { formatNumber } from "../../../core/quantity/format";
import { fixedEndPoint, granAlkalinity, inflection } from "../../../core/runs/techniques/gran";
import { nextPoint, simulatedWater } from "../../../core/simulation/acidTitration";
import { NumberEntry } from "../../ui/NumberEntry";
import { CurveChart } from "./CurveChart";
import { usePractice } from "./practice";
import type { ReadProps } from "./readProps";

/** A titration followed by a pH meter: typed point by point, or by the simulated burette; three end points side by side. */
export default function CurveTitration({ state, replicate, keep, add, seed }: ReadProps) {
  const practice = usePractice();
  const points = state.replicates[replicate]?.points ?? [];
  const { measure } = state.method;
  const [ml, setMl] = useState("");
  const [ph, setPh] = useState("");
  const [wrong, setWrong] = useState<{ ml?: string; ph?: string }>({});
  const [running, setRunning] = useState(false);
  const strength = state.strength ?? (measure.technique === "ph-endpoint" ? measure.strength : 0.02);
  const sample = measure.technique === "ph-endpoint" ? measure.sample_ml : 100;
  useEffect(() => {
    if (!running) return;
    const timer = setInterval(() => {
      const next = nextPoint(simulatedWater(seed, sample, strength), points);
      if (next) add({ type: "point", replicate, ...next, simulated: true });
      else setRunning(false);
    }, 250);
    return () => clearInterval(timer);
  }, [running, points, add, replicate, seed, sample, strength]);
  const found = useMemo(
    () => ({
      gran: granAlkalinity(sample, strength, points),
      steepest: inflection(points),
      fixed: fixedEndPoint(points, measure.technique === "ph-endpoint" ? measure.end_ph : 4.5),
    }),
    [points, sample, strength, measure],
  );
  const submit = () => {
    const [a, b] = [readValue(ml, "mL"), readValue(ph, "pH")];
    if ("message" in a || "message" in b) {
      return setWrong({
        ...("message" in a ? { ml: a.message } : {}),
        ...("message" in b ? { ph: b.message } : {}),
      });
    }
    if (b.value < 0 || b.value > 14) return setWrong({ ph: "A pH lies between 0 and 14." });
    if (points.some((p) => Math.abs(p.ml - a.value) < 1e-9))
      return setWrong({ ml: "This volume is there already." });
    setWrong({});
    setMl("");
    setPh("");
    add({ type: "point", replicate, ml: a.value, ph: b.value });
  };
  const show = (result: { ok: true; value: number } | { ok: false; error: { message: string } }) =>
    result.ok ? `${formatNumber(result.value, 2)} mL` : "–";
  return (
    <div className="curve">
      <CurveChart
        points={points}
        sampleMl={sample}
        end={found.gran.ok ? found.gran.value.equivalence_ml : null}
      />
      <dl className="ends">
        <div>
          <dt>Gran</dt>
          <dd className="m">
            {found.gran.ok ? `${formatNumber(found.gran.value.equivalence_ml, 2)} mL` : "–"}
          </dd>
        </div>
        <div>
          <dt>Steepest place</dt>
          <dd className="m">{show(found.steepest)}</dd>
        </div>
        <div>
          <dt>Fixed pH</dt>
          <dd className="m">{show(found.fixed)}</dd>
        </div>
      </dl>
      {!found.gran.ok && points.length > 0 && <p className="quiet small">{found.gran.error.message}</p>}
      <form
        className="two"
        onSubmit={(event) => {
          event.preventDefault();
          submit();
        }}
      >
        <NumberEntry
          label="Acid added"
          unit="mL"
          name="ml"
          text={ml}
          onText={setMl}
          wrong={wrong.ml}
          autoFocus
        />
        <NumberEntry label="pH" unit="pH" name="ph" text={ph} onText={setPh} wrong={wrong.ph} />
        <button type="submit" className="calm strong">
          Add the point
        </button>
      </form>
      <div className="actions">
        <button
          type="button"
          className="act small"
          disabled={!found.gran.ok || running}
          onClick={() => keep({ kind: "titrated" })}
        >
          Take this end point
        </button>
        {practice && (
          <button type="button" className="calm strong" onClick={() => setRunning((r) => !r)}>
            {running ? "Stop the simulated burette" : "Let the simulated burette run"}
          </button>
        )}
      </div>
    </div>
  );
}
