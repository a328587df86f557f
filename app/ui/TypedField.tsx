import { Input } from "antd";
import { type ReactNode, useId } from "react";
import { Formula } from "./Formula";

/** A labelled field whose text somebody else holds, with its hint or what is wrong with it. */
export function TypedField({
  label,
  value,
  onChange,
  name,
  wrong,
  hint,
  mono = false,
  maxLength,
  choices = [],
  type = "text",
  max,
  meant,
  autoFocus = false,
}: {
  label: string;
  value: string;
  onChange(value: string): void;
  name?: string;
  wrong?: string | undefined;
  hint?: string | undefined;
  mono?: boolean;
  maxLength?: number;
  /** What may be chosen instead of typed, with what is said of each. */
  choices?: readonly { code: string; says: string }[];
  type?: "text" | "date";
  /** The last day that can be meant. */
  max?: string | undefined;
  /** What the text was taken for: it is said whatever is wrong with it. */
  meant?: ReactNode;
  autoFocus?: boolean;
}) {
  const id = useId();
  return (
    <div className="field">
      <label htmlFor={id}>
        <Formula>{label}</Formula>
      </label>
      <Input
        id={id}
        type={type}
        size="large"
        autoComplete="off"
        autoFocus={autoFocus}
        className={mono ? "m" : ""}
        value={value}
        status={wrong ? "error" : ""}
        aria-invalid={wrong ? true : undefined}
        aria-describedby={`${id}-says`}
        onChange={(e) => onChange(e.target.value)}
        {...(name ? { name } : {})}
        {...(maxLength ? { maxLength } : {})}
        {...(max ? { max } : {})}
        {...(choices.length ? { list: `${id}-list` } : {})}
      />
      {choices.length > 0 && (
        <datalist id={`${id}-list`}>
          {choices.map((c) => (
            <option key={c.code} value={c.code}>
              {c.says}
            </option>
          ))}
        </datalist>
      )}
      <div id={`${id}-says`}>
        {meant}
        {wrong ? (
          <div className="wrong" role="alert">
            {wrong}
          </div>
        ) : (
          hint && (
            <div className="hint">
              <Formula>{hint}</Formula>
            </div>
          )
        )}
      </div>
    </div>
  );
}
