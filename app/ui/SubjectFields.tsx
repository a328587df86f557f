import { Input, Select } from "antd";
import { useState } from "react";
import { blankKinds, blankWords, kindWords, type ResultKind } from "../../core/bench/resultKinds";
import { formatSignificant } from "../../core/quantity/format";
import { TextField } from "./TextField";

const explained: Record<ResultKind, string> = {
  sample: "The water itself.",
  blank: "Water without what is measured: what do vessels and reagents bring along?",
  control: "A bottle of known content, measured again and again: it makes a control chart.",
  standard: "A standard measured like a sample, to see that nothing has moved.",
  spike: "The same water with a known addition: does it all come back?",
};

/** What is in the vessel: the sample, or a check of its batch, and what that has to be said of it. */
export function SubjectFields({
  kinds,
  unit,
  bottles,
  unspiked,
  errors,
  initial = "sample",
  initialCode = "",
}: {
  kinds: readonly ResultKind[];
  unit: string;
  bottles: readonly { code: string; name: string; holds: number | null }[];
  /** Results of which one may be the water without the addition. */
  unspiked: readonly { id: string; label: string }[];
  errors: Record<string, string>;
  initial?: ResultKind;
  initialCode?: string;
}) {
  const [kind, setKind] = useState<ResultKind>(initial);
  const [blank, setBlank] = useState<string>("reagent");
  const [code, setCode] = useState(initialCode);
  const [without, setWithout] = useState(unspiked[0]?.id ?? "");
  const bottle = bottles.find((b) => b.code.toLowerCase() === code.trim().toLowerCase());
  return (
    <>
      <div className="two">
        <div className="field">
          <span className="label">In the vessel</span>
          <Select
            aria-label="In the vessel"
            size="large"
            style={{ width: "100%" }}
            value={kind}
            options={kinds.map((k) => ({ value: k, label: kindWords[k] }))}
            onChange={setKind}
          />
          <input type="hidden" name="subject" value={kind} />
          <p className="hint">{explained[kind]}</p>
          {errors.subject && <p className="wrong">{errors.subject}</p>}
        </div>
        {kind === "blank" && (
          <div className="field">
            <span className="label">Which blank</span>
            <Select
              aria-label="Which blank"
              size="large"
              style={{ width: "100%" }}
              value={blank}
              options={blankKinds.map((k) => ({ value: k, label: blankWords[k] }))}
              onChange={setBlank}
            />
            <input type="hidden" name="blank_of" value={blank} />
          </div>
        )}
        {(kind === "control" || kind === "standard" || kind === "spike") && (
          <div className="field">
            <label htmlFor="subject-code">{kind === "spike" ? "What is added" : "Which bottle"}</label>
            <Input
              id="subject-code"
              name="subject_code"
              size="large"
              autoComplete="off"
              className="m"
              placeholder="Lot"
              list="subject-bottles"
              value={code}
              onChange={(e) => setCode(e.target.value)}
              aria-invalid={errors.subject_code ? true : undefined}
              aria-describedby="subject-code-says"
            />
            <datalist id="subject-bottles">
              {bottles.map((b) => (
                <option key={b.code} value={b.code}>
                  {b.name}
                </option>
              ))}
            </datalist>
            <div id="subject-code-says">
              {errors.subject_code ? (
                <div className="wrong" role="alert">
                  {errors.subject_code}
                </div>
              ) : (
                bottle && (
                  <div className="hint">
                    {bottle.name}
                    {bottle.holds === null ? "" : `: ${formatSignificant(bottle.holds, 4)} ${unit}`}
                  </div>
                )
              )}
            </div>
          </div>
        )}
      </div>
      {(kind === "control" || kind === "standard") && bottle?.holds == null && (
        <div className="two">
          <TextField
            mono
            name="expected"
            label="What is in it"
            suffix={unit}
            wrong={errors.expected}
            hint={
              kind === "control"
                ? "Empty for a control of your own: its first results will say."
                : "As its label says, in the unit of the result."
            }
          />
        </div>
      )}
      {kind === "spike" && (
        <>
          <div className="field">
            <span className="label">The same water without the addition</span>
            <Select
              aria-label="The same water without the addition"
              size="large"
              style={{ width: "100%" }}
              value={without || null}
              options={unspiked.map((u) => ({ value: u.id, label: u.label }))}
              onChange={setWithout}
              notFoundContent="Measure the sample first."
            />
            <input type="hidden" name="unspiked" value={without} />
            {errors.unspiked && (
              <p className="wrong" role="alert">
                {errors.unspiked}
              </p>
            )}
          </div>
          <div className="two">
            <TextField
              mono
              name="spike_sample_ml"
              label="Sample taken"
              suffix="mL"
              wrong={errors.spike_sample_ml}
            />
            <TextField
              mono
              name="spike_ml"
              label="Addition"
              suffix="mL"
              wrong={errors.spike_ml}
              hint="Little and strong: the water should stay the same."
            />
          </div>
          {bottle?.holds == null && (
            <div className="two">
              <TextField
                mono
                name="spike_strength"
                label="Strength of the addition"
                suffix={unit}
                wrong={errors.spike_strength}
              />
            </div>
          )}
        </>
      )}
    </>
  );
}
