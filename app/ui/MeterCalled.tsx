import { Segmented } from "antd";
import { useState } from "react";
import { TextField } from "./TextField";

type Place = "bench" | "field";

/** What a meter is called. */
export const MeterCalled = ({
  errors,
  initial = { code: "", name: "" },
}: {
  errors: Record<string, string>;
  initial?: { code: string; name: string };
}) => (
  <div className="two">
    <TextField
      name="code"
      label="Code"
      hint="What is written on it, like P-2."
      initial={initial.code}
      wrong={errors.code}
    />
    <TextField
      name="name"
      label="Which one is it"
      hint="Like “bench meter in the pump house”."
      initial={initial.name}
      wrong={errors.name}
    />
  </div>
);

/** Where a meter is used. */
export function MeterPlace({ initial = "bench" }: { initial?: Place }) {
  const [place, setPlace] = useState(initial);
  return (
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
  );
}
