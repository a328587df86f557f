import { Select } from "antd";
import { type ReactNode, useId, useState } from "react";

/** A choice of several that travels with its form under one name. */
export function ManyField({
  name,
  label,
  options,
  initial = [],
  hidden = false,
  placeholder = "None",
  children,
}: {
  name: string;
  label: string;
  options: { value: string; label: string }[];
  initial?: readonly string[];
  /** The label is for those who do not see the page. */
  hidden?: boolean;
  placeholder?: string;
  /** What stands beside it, told whether anything is chosen. */
  children?(some: boolean): ReactNode;
}) {
  const id = useId();
  const [chosen, setChosen] = useState<string[]>([...initial]);
  const field = (
    <>
      {chosen.map((value) => (
        <input key={value} type="hidden" name={name} value={value} />
      ))}
      <Select
        id={id}
        mode="multiple"
        size="large"
        style={{ width: "100%" }}
        showSearch
        className={hidden ? "search" : ""}
        optionFilterProp="label"
        placeholder={placeholder}
        value={chosen}
        options={options}
        onChange={setChosen}
        {...(hidden ? { "aria-label": label } : {})}
      />
      {children?.(chosen.length > 0)}
    </>
  );
  return hidden ? (
    field
  ) : (
    <div className="field">
      <label htmlFor={id}>{label}</label>
      {field}
    </div>
  );
}
