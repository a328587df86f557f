import { Checkbox, Input, Segmented } from "antd";
import { useState } from "react";
import { TextField } from "./TextField";

/** The fields of a new pH meter, shared by the register and the first steps. */
export function MeterFields({ errors, today }: { errors: Record<string, string>; today: string }) {
  const [display, setDisplay] = useState<"signal" | "value">("signal");
  const [place, setPlace] = useState<"bench" | "field">("bench");
  return (
    <>
      <div className="two">
        <TextField name="code" label="Code" hint="What is written on it, like P-2." wrong={errors.code} />
        <TextField
          name="name"
          label="Which one is it"
          hint="Like “bench meter in the pump house”."
          wrong={errors.name}
        />
      </div>
      <div className="field">
        <span className="label">What does it show?</span>
        <input type="hidden" name="display" value={display} />
        <Segmented
          aria-label="What does it show?"
          size="large"
          value={display}
          onChange={setDisplay}
          options={[
            { label: "mV as well as pH", value: "signal" },
            { label: "Only pH", value: "value" },
          ]}
        />
        <div className="hint">
          {display === "signal"
            ? "Brintel fits the line itself and can tell a tired probe from a bad buffer."
            : "You type what it shows before and after you adjust it; the verdict rests on that."}
        </div>
      </div>
      <div className="field">
        <span className="label">Where is it used?</span>
        <input type="hidden" name="place" value={place} />
        <Segmented
          aria-label="Where is it used?"
          size="large"
          value={place}
          onChange={setPlace}
          options={[
            { label: "At the bench", value: "bench" },
            { label: "In the field", value: "field" },
          ]}
        />
      </div>
      {display === "signal" && (
        <div className="field">
          <Checkbox name="has_cable">It is connected by a cable (here: a simulated instrument)</Checkbox>
        </div>
      )}
      <div className="field">
        <label htmlFor="probe_installed_on">Probe in use since</label>
        <Input
          id="probe_installed_on"
          name="probe_installed_on"
          type="date"
          size="large"
          defaultValue={today}
          max={today}
        />
        {errors.probe_installed_on && <div className="wrong">{errors.probe_installed_on}</div>}
      </div>
    </>
  );
}
