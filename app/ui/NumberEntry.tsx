import { Input, type InputRef } from "antd";
import { useEffect, useId, useRef } from "react";
import { type EntryUnit, readEntry, singleValue } from "../../core/quantity/entry";
import { Formula } from "./Formula";

/** A field for a measured number: shows how it was understood before it is kept, and asks when it can be read two ways. */
export function NumberEntry({
  label,
  unit,
  name,
  text,
  onText,
  wrong,
  hint,
  bare = false,
  autoFocus = false,
}: {
  label: string;
  unit: EntryUnit;
  name: string;
  text: string;
  onText(text: string): void;
  wrong?: string | undefined;
  hint?: string;
  /** A plain number, whose unit stands in the label. */
  bare?: boolean;
  /** Takes the keys as soon as this is true. */
  autoFocus?: boolean;
}) {
  const id = useId();
  const field = useRef<InputRef>(null);
  // Also when a field that had to wait for its moment opens.
  useEffect(() => {
    if (autoFocus) field.current?.focus();
  }, [autoFocus]);
  const entry = readEntry(text, unit);
  const single = singleValue(entry);
  const typed = text.trim() !== "";
  const message = wrong ?? (typed && "message" in single ? single.message : undefined);
  return (
    <div className="field">
      <label htmlFor={id}>
        <Formula>{label}</Formula>
      </label>
      <Input
        id={id}
        name={name}
        value={text}
        size="large"
        inputMode="text"
        autoComplete="off"
        ref={field}
        suffix={bare ? undefined : unit || undefined}
        status={message ? "error" : ""}
        aria-describedby={`${id}-says`}
        aria-invalid={message ? true : undefined}
        className="m"
        onChange={(event) => onText(event.target.value)}
      />
      <div id={`${id}-says`} aria-live="polite">
        {message ? (
          <div className="wrong">{message}</div>
        ) : (
          <div className="hint">
            {typed && "understood" in entry
              ? `Understood: ${bare && unit ? entry.understood.replace(` ${unit}`, "") : entry.understood}`
              : (hint ?? " ")}
          </div>
        )}
        {entry.kind === "ambiguous" &&
          entry.choices.map((choice) => (
            <button key={choice} type="button" className="calm strong" onClick={() => onText(String(choice))}>
              It is {choice}
            </button>
          ))}
      </div>
    </div>
  );
}
