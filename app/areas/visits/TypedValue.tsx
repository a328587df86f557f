import { useState } from "react";
import { type EntryUnit, readValue } from "../../../core/quantity/entry";
import { formatOwnDigits } from "../../../core/quantity/format";
import { NumberEntry } from "../../ui/NumberEntry";

/** One number that is typed, understood, held against what is possible, and kept. */
export function TypedValue({
  label,
  unit,
  range: [low, high],
  action,
  calm = false,
  hint,
  onValue,
  onNothing,
}: {
  label: string;
  unit: EntryUnit;
  range: readonly [low: number, high: number];
  action: string;
  /** Possible, but not what is to be done now. */
  calm?: boolean;
  hint?: string;
  onValue(value: number): void;
  /** Where the field may stay empty. */
  onNothing?(): void;
}) {
  const [text, setText] = useState("");
  const [wrong, setWrong] = useState<string | undefined>();
  return (
    <form
      className="stack close"
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        if (onNothing && text.trim() === "") return onNothing();
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
      <button type="submit" className={calm ? "calm strong" : "act"}>
        {action}
      </button>
    </form>
  );
}
