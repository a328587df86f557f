import { Input } from "antd";
import { useEffect, useId, useState } from "react";
import { MeantDay } from "./DayField";

/** A moment as the field writes it: this device's own time, to the minute. */
const inOwnTime = (at: Date): string =>
  Number.isNaN(at.getTime())
    ? ""
    : new Date(at.getTime() - at.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);

/** A moment in this device's own time, to the minute; it travels with its form as UTC. */
export function MomentField({
  name,
  label,
  hint,
  wrong,
  initial = null,
  onMoment,
}: {
  name: string;
  label: string;
  hint: string;
  wrong: string | undefined;
  /** The moment that is known already; it is kept to the millisecond until somebody changes it. */
  initial?: string | null;
  /** For a field without a form: the moment, or nothing, whenever it changes. */
  onMoment?(at: string | null): void;
}) {
  const id = useId();
  /** What was typed; null while nobody has touched the field. */
  const [typed, setTyped] = useState<string | null>(null);
  const [known, setKnown] = useState("");
  // Only the browser knows this device's own time.
  useEffect(() => setKnown(initial ? inOwnTime(new Date(initial)) : ""), [initial]);
  const local = typed ?? known;
  const at = typed === null ? (initial ? new Date(initial) : null) : typed === "" ? null : new Date(typed);
  return (
    <div className="field">
      <label htmlFor={id}>{label}</label>
      <input type="hidden" name={name} value={at && !Number.isNaN(at.getTime()) ? at.toISOString() : local} />
      <Input
        id={id}
        type="datetime-local"
        size="large"
        value={local}
        status={wrong ? "error" : ""}
        onChange={(e) => {
          setTyped(e.target.value);
          const moment = new Date(e.target.value);
          onMoment?.(Number.isNaN(moment.getTime()) ? null : moment.toISOString());
        }}
      />
      <MeantDay day={local.slice(0, 10)} />
      {wrong ? <div className="wrong">{wrong}</div> : <div className="hint">{hint}</div>}
    </div>
  );
}

/** When the water was taken; left empty when it is measured where it was taken, at once. */
export const CollectedField = ({
  wrong,
  initial = null,
}: {
  wrong: string | undefined;
  /** The moment a bottle was filled, where that is known. */
  initial?: string | null;
}) => (
  <MomentField
    name="collected"
    label="Taken at, if it was not just now"
    hint="How long the sample keeps runs from then."
    wrong={wrong}
    initial={initial}
  />
);
