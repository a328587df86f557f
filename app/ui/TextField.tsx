import { Input } from "antd";
import { Formula } from "./Formula";

/** A plain labelled field with a hint and its error; what was typed stays after a refusal. */
export function TextField({
  name,
  id = name,
  label,
  hint,
  wrong,
  initial,
  mono = false,
  suffix,
}: {
  name: string;
  /** Where a page has several of the name. */
  id?: string;
  label: string;
  hint?: string;
  wrong?: string | undefined;
  initial?: string;
  mono?: boolean;
  /** The unit of what is typed. */
  suffix?: string;
}) {
  return (
    <div className="field">
      <label htmlFor={id}>
        <Formula>{label}</Formula>
      </label>
      <Input
        id={id}
        name={name}
        size="large"
        autoComplete="off"
        suffix={suffix}
        {...(initial === undefined ? {} : { defaultValue: initial })}
        status={wrong ? "error" : ""}
        aria-invalid={wrong ? true : undefined}
        aria-describedby={`${id}-says`}
        className={mono ? "m" : ""}
      />
      <div id={`${id}-says`}>
        {wrong ? (
          <div className="wrong">{wrong}</div>
        ) : hint ? (
          <div className="hint">
            <Formula>{hint}</Formula>
          </div>
        ) : null}
      </div>
    </div>
  );
}
