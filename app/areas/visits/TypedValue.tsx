import { useState } from "react";
import { type EntryUnit, readValue } from "../../../core/quantity/entry";
import { formatOwnDigits } from "../../../core/quantity/format";
import { NumberEntry } from "../../ui/NumberEntry";

/** One number that is typed, understood, held against what is possible, and kept. */
export function TypedValue({
  label,
  unit,
  low,
  high,
  action,
  hint,
  onValue,
}: {
  label: string;
  unit: EntryUnit;
  low: number;
  high: number;
  action: string;
  hint?: string;
  onValue(value: number): void;
}) {
  const [text, setText] = useState("");
  const [wrong, setWrong] = useState<string | undefined>();
  return (
    <form
      className="stack close"
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        const entry = readValue(text, unit);
        if ("message" in entry) return setWrong(entry.message);
        if (entry.value < low || entry.value > high)
          return setWrong(
            `${label} lies between ${formatOwnDigits(low)} and ${formatOwnDigits(high)} ${unit}. Look again.`,
          );
        onValue(entry.value);
        setText("");
      }}
    >
      <NumberEntry
        label={label}
        unit={unit}
        name={label}
        text={text}
        onText={(t) => {
          setText(t);
          setWrong(undefined);
        }}
        wrong={wrong}
        {...(hint ? { hint } : {})}
      />
      <button type="submit" className="act">
        {action}
      </button>
    </form>
  );
}
