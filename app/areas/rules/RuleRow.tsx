import { Input, Select } from "antd";
import { useState } from "react";
import type { HouseRuleField } from "../../../core/rules/houseRuleFields";
import { Pieces } from "../../ui/Pieces";

/** One rule: what it is and why, its value, and what the default is. What is filtered away is hidden and still sent. */
export function RuleRow({
  field,
  wrong,
  standard,
  initial,
  shownDefault,
  disabled,
  hidden,
}: {
  field: HouseRuleField;
  wrong: string | undefined;
  standard: boolean;
  initial: string;
  shownDefault: string;
  disabled: boolean;
  hidden: boolean;
}) {
  const [value, setValue] = useState(initial);
  const id = field.path.replaceAll(".", "-");
  if (field.kind === "pieces") {
    return (
      <div className="rule-row whole" hidden={hidden}>
        <input type="hidden" name={field.path} value={value} />
        <Pieces
          title={`${field.title}, ${field.unit}`}
          all={field.sizes}
          chosen={value.split(" ").map(Number)}
          onChoose={(sizes) => setValue(sizes.join(" "))}
          disabled={disabled}
        />
        {wrong ? <div className="wrong">{wrong}</div> : <div className="quiet small">{field.reason}</div>}
      </div>
    );
  }
  return (
    <div className="rule-row" hidden={hidden}>
      <div>
        <label htmlFor={id}>{field.title}</label>
        <div className="quiet small">{field.reason}</div>
      </div>
      <div>
        {field.kind === "choice" ? (
          <>
            <input type="hidden" name={field.path} value={value} />
            <Select
              id={id}
              aria-label={field.title}
              className="rule-choice"
              value={value}
              onChange={setValue}
              options={field.options}
              showSearch={field.options.length > 20}
              popupMatchSelectWidth={false}
              disabled={disabled}
            />
          </>
        ) : (
          <Input
            id={id}
            name={field.path}
            className="m"
            value={value}
            onChange={(e) => setValue(e.target.value)}
            suffix={field.kind === "pistons" ? undefined : field.unit}
            status={wrong ? "error" : ""}
            aria-invalid={wrong ? true : undefined}
            disabled={disabled}
          />
        )}
        {wrong ? (
          <div className="wrong">{wrong}</div>
        ) : (
          !standard && <div className="quiet small">Default: {shownDefault}</div>
        )}
      </div>
    </div>
  );
}
