import { Input } from "antd";

/** Several things, a line each. */
export const LinesField = ({
  name,
  label,
  hint,
  initial = "",
  wrong,
  rows = 3,
  mono = false,
  placeholder,
}: {
  name: string;
  label: string;
  hint?: string;
  initial?: string;
  wrong?: string | undefined;
  rows?: number;
  mono?: boolean;
  placeholder?: string;
}) => (
  <div className="field">
    <label htmlFor={name}>{label}</label>
    <Input.TextArea
      id={name}
      name={name}
      defaultValue={initial}
      className={mono ? "m" : ""}
      {...(placeholder === undefined ? {} : { placeholder })}
      autoSize={{ minRows: rows, maxRows: 12 }}
      status={wrong ? "error" : ""}
      aria-invalid={wrong ? true : undefined}
      aria-describedby={`${name}-says`}
    />
    <div id={`${name}-says`}>
      {wrong ? <div className="wrong">{wrong}</div> : hint ? <div className="hint">{hint}</div> : null}
    </div>
  </div>
);
