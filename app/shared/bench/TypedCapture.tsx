import { useState } from "react";
import { type Capture, captureSchema } from "../../../core/bench/capture";
import { readEntry } from "../../../core/quantity/entry";
import type { Unit } from "../../../core/quantity/unit";
import { useDraft } from "../drafts";
import { NumberEntry, singleValue } from "../NumberEntry";

interface Field {
  key: "signal_mv" | "displayed_ph" | "adjusted_ph" | "temperature_c";
  label: string;
  unit: Unit;
  optional?: boolean;
  hint?: string;
}

function fieldsFor(display: "signal" | "value", adjustable: boolean): Field[] {
  const temperature: Field = { key: "temperature_c", label: "Temperature", unit: "°C" };
  if (display === "signal") return [{ key: "signal_mv", label: "Signal", unit: "mV" }, temperature];
  const shown: Field = {
    key: "displayed_ph",
    label: adjustable ? "Display before adjusting" : "Display",
    unit: "pH",
  };
  const adjusted: Field = {
    key: "adjusted_ph",
    label: "Display after adjusting",
    unit: "pH",
    optional: true,
    hint: "Leave it empty if you did not adjust the meter.",
  };
  return adjustable ? [shown, adjusted, temperature] : [shown, temperature];
}

/** Values read off a meter and typed; what was typed survives a reload until it is kept. */
export function TypedCapture({
  draftKey,
  display,
  adjustable,
  onCapture,
  onLive,
}: {
  draftKey: string;
  display: "signal" | "value";
  /** A buffer the meter can be adjusted to; a check or a sample cannot. */
  adjustable: boolean;
  onCapture(capture: Capture): void;
  /** Back to the live value, where there is one. */
  onLive?: () => void;
}) {
  const drafts = {
    signal_mv: useDraft(`${draftKey}:mv`),
    displayed_ph: useDraft(`${draftKey}:shown`),
    adjusted_ph: useDraft(`${draftKey}:adjusted`),
    temperature_c: useDraft(`${draftKey}:temperature`),
  };
  const [wrong, setWrong] = useState<Partial<Record<Field["key"], string>>>({});
  const fields = fieldsFor(display, adjustable);

  const submit = () => {
    const found: Partial<Record<Field["key"], string>> = {};
    const values: Partial<Record<Field["key"], number>> = {};
    for (const field of fields) {
      const text = drafts[field.key][0];
      if (text.trim() === "" && field.optional) continue;
      const single = singleValue(readEntry(text, field.unit));
      if ("message" in single) found[field.key] = single.message;
      else values[field.key] = single.value;
    }
    const parsed = captureSchema.safeParse({
      source: "typed",
      signal_mv: null,
      displayed_ph: null,
      adjusted_ph: null,
      ...values,
      steady: null,
      seconds_in_solution: null,
      slope_ph_per_min: null,
    });
    for (const issue of parsed.error?.issues ?? []) {
      const key = issue.path[0] as Field["key"] | undefined;
      if (key) found[key] ??= issue.message;
    }
    setWrong(found);
    if (!parsed.success || Object.keys(found).length > 0) return;
    for (const [, , clear] of Object.values(drafts)) clear();
    onCapture(parsed.data);
  };

  return (
    <form
      className="typed sheet"
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        submit();
      }}
    >
      <div className="typed-fields">
        {fields.map((field, i) => (
          <NumberEntry
            key={field.key}
            name={field.key}
            label={field.label}
            unit={field.unit}
            text={drafts[field.key][0]}
            onText={drafts[field.key][1]}
            wrong={wrong[field.key]}
            autoFocus={i === 0}
            {...(field.hint ? { hint: field.hint } : {})}
          />
        ))}
      </div>
      <div className="actions">
        <button type="submit" className="act">
          Keep it <kbd>enter</kbd>
        </button>
        {onLive && (
          <button type="button" className="calm" onClick={onLive}>
            Back to the live value
          </button>
        )}
      </div>
    </form>
  );
}
