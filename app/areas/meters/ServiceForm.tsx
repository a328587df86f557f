import { Input } from "antd";
import { useState } from "react";
import { Form } from "react-router";
import { filling, serviceKinds } from "../../../core/bench/service";
import { type Measurand, measurandFacts } from "../../../core/quantity/measurand";
import { ChoiceField } from "../../ui/ChoiceField";
import { DayField } from "../../ui/DayField";
import { useSending } from "../../ui/useSending";

/** Writes down what was done to a meter; `kept` is when something was written down last, `errors` what is wrong at which field. */
export function ServiceForm({
  measured,
  today,
  errors,
  kept,
}: {
  measured: readonly Measurand[];
  today: string;
  errors: Record<string, string>;
  kept: string;
}) {
  const busy = useSending();
  const [kind, setKind] = useState<string>("cleaned");
  return (
    <details className="stack close">
      <summary className="calm">Write down what was done to it</summary>
      <Form method="post" className="form sheet" key={kept} style={{ marginTop: 10 }}>
        <div className="two">
          <ChoiceField
            name="kind"
            label="What was done"
            initial={kind}
            onChoose={setKind}
            wrong={errors.kind}
            options={Object.entries(serviceKinds).map(([value, label]) => ({ value, label }))}
          />
          <ChoiceField<string>
            name="measurand"
            label="To which sensor"
            initial={measured[0] ?? ""}
            options={measured.map((m) => ({ value: m, label: measurandFacts[m].name }))}
          />
        </div>
        <div className="two">
          <DayField name="on_date" label="When" initial={today} max={today} wrong={errors.on_date} />
          <div className="field">
            <label htmlFor="clock">At what time</label>
            <Input id="clock" name="clock" type="time" size="large" />
            {errors.clock ? (
              <div className="wrong">{errors.clock}</div>
            ) : (
              <div className="hint">Empty: now, or the whole of an earlier day.</div>
            )}
          </div>
        </div>
        <div className="field">
          <label htmlFor="note">Note</label>
          <Input id="note" name="note" size="large" />
          {errors.note && <div className="wrong">{errors.note}</div>}
        </div>
        {(filling.has(kind) || errors.lot) && (
          <div className="field">
            <label htmlFor="lot">Electrolyte, its lot</label>
            <Input
              id="lot"
              name="lot"
              size="large"
              className="m"
              autoComplete="off"
              aria-describedby="lot-says"
            />
            <div id="lot-says">
              {errors.lot ? (
                <div className="wrong" role="alert">
                  {errors.lot}
                </div>
              ) : (
                <div className="hint">Calibrations from then on name it. Empty where nobody knows.</div>
              )}
            </div>
          </div>
        )}
        {(kind === "sensor-changed" || kind === "membrane-changed") && (
          <p className="quiet small">
            This ends what was calibrated before that moment: the new one is calibrated before its first
            reading.
          </p>
        )}
        <button type="submit" className="act small" disabled={busy}>
          Write it down
        </button>
      </Form>
    </details>
  );
}
