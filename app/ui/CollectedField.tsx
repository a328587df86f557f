import { Input } from "antd";
import { useEffect, useId, useState } from "react";

/** A moment as the field writes it: this device's own time, to the minute. */
const inOwnTime = (at: Date): string =>
  Number.isNaN(at.getTime())
    ? ""
    : new Date(at.getTime() - at.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);

/** When the water was taken, in this device's own time; left empty when it is measured where it was taken, at once. */
export function CollectedField({
  wrong,
  initial = null,
}: {
  wrong: string | undefined;
  /** The moment a bottle was filled, where that is known. */
  initial?: string | null;
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
      <label htmlFor={id}>Taken at, if it was not just now</label>
      <input
        type="hidden"
        name="collected"
        value={at && !Number.isNaN(at.getTime()) ? at.toISOString() : local}
      />
      <Input
        id={id}
        type="datetime-local"
        size="large"
        value={local}
        onChange={(e) => setTyped(e.target.value)}
      />
      {wrong ? (
        <div className="wrong">{wrong}</div>
      ) : (
        <div className="hint">How long the sample keeps runs from then.</div>
      )}
    </div>
  );
}
