import { Select } from "antd";
import { useState } from "react";

/** A list of more than so many is found by typing. */
const searchedFrom = 8;

/** A labelled choice that travels with its form; it keeps itself, and tells whoever wants to know. */
export function ChoiceField<T extends string>({
  name,
  label,
  options,
  initial,
  onChoose,
  hint,
  wrong,
}: {
  name: string;
  label: string;
  options: { value: T; label: string }[];
  initial: T;
  onChoose?: (value: T) => void;
  hint?: string;
  wrong?: string | undefined;
}) {
  const [value, setValue] = useState<T>(initial);
  return (
    <div className="field">
      <span className="label">{label}</span>
      <input type="hidden" name={name} value={value} />
      <Select
        aria-label={label}
        size="large"
        style={{ width: "100%" }}
        value={value}
        showSearch={options.length > searchedFrom}
        optionFilterProp="label"
        onChange={(next: T) => {
          setValue(next);
          onChoose?.(next);
        }}
        options={options}
      />
      {wrong ? <div className="wrong">{wrong}</div> : hint ? <div className="hint">{hint}</div> : null}
    </div>
  );
}
