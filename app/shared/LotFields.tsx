import { Select } from "antd";
import { useState } from "react";
import { type BufferId, phBuffers } from "../../core/reference/phBuffers";
import { TextField } from "./TextField";

/** The fields of a new lot of buffer, shared by the stock and the first steps. */
export function LotFields({ errors, today }: { errors: Record<string, string>; today: string }) {
  const [buffer, setBuffer] = useState<BufferId>("technical-7");
  return (
    <>
      <div className="two">
        <div className="field">
          <span className="label">Which buffer</span>
          <input type="hidden" name="buffer" value={buffer} />
          <Select
            aria-label="Which buffer"
            size="large"
            style={{ width: "100%" }}
            value={buffer}
            onChange={setBuffer}
            options={Object.values(phBuffers).map((b) => ({ value: b.id, label: `${b.name} (${b.family})` }))}
          />
          {errors.buffer && <div className="wrong">{errors.buffer}</div>}
        </div>
        <TextField name="code" label="Lot on the bottle" wrong={errors.code} mono />
      </div>
      <div className="two">
        <TextField
          name="received_on"
          label="Received"
          type="date"
          initial={today}
          wrong={errors.received_on}
        />
        <TextField name="expires_on" label="Expires" type="date" wrong={errors.expires_on} />
      </div>
      <div className="two">
        <TextField
          name="opened_on"
          label="Opened"
          type="date"
          hint="Leave empty while it is closed."
          wrong={errors.opened_on}
        />
        <TextField
          name="shelf_life_open_days"
          label="Keeps, once opened, days"
          initial="90"
          wrong={errors.shelf_life_open_days}
          mono
        />
      </div>
      <TextField
        name="uncertainty_ph"
        label="Uncertainty on the certificate, pH"
        initial="0.01"
        wrong={errors.uncertainty_ph}
        mono
      />
      <details key={buffer}>
        <summary className="calm">The certificate has its own table of pH by temperature</summary>
        <div className="certificate">
          {phBuffers[buffer].table.map((row) => (
            <TextField
              key={row.temperature_c}
              name={`ph_${row.temperature_c}`}
              label={`${row.temperature_c} °C`}
              initial={row.ph.toFixed(3)}
              wrong={errors[`table.${row.temperature_c / 5}.ph`]}
              mono
            />
          ))}
        </div>
      </details>
    </>
  );
}
