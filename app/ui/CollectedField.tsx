import { Input } from "antd";
import { useId, useState } from "react";

/** When the water was taken, in this device's own time; left empty when it is measured where it was taken, at once. */
export function CollectedField({ wrong }: { wrong: string | undefined }) {
  const id = useId();
  const [local, setLocal] = useState("");
  const at = local === "" ? null : new Date(local);
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
        onChange={(e) => setLocal(e.target.value)}
      />
      {wrong ? (
        <div className="wrong">{wrong}</div>
      ) : (
        <div className="hint">How long the sample keeps runs from then.</div>
      )}
    </div>
  );
}
