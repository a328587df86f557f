import "./runs.css";
import { Input } from "antd";
import { useState } from "react";

export function Field({
  label,
  name,
  start = "",
  value,
  onValue,
  suffix,
  hint,
  wrong,
}: {
  label: string;
  name: string;
  start?: string;
  value?: string;
  onValue?(value: string): void;
  suffix?: string;
  hint?: string;
  wrong?: string | undefined;
}) {
  const id = `run-${name}`;
  return (
    <div className="field">
      <label htmlFor={id}>{label}</label>
      <Input
        id={id}
        name={name}
        size="large"
        autoComplete="off"
        suffix={suffix}
        status={wrong ? "error" : ""}
        aria-invalid={wrong ? true : undefined}
        aria-describedby={`${id}-says`}
        {...(onValue ? { value, onChange: (e) => onValue(e.target.value) } : { defaultValue: start })}
      />
      <div id={`${id}-says`}>
        {wrong ? (
          <div className="wrong" role="alert">
            {wrong}
          </div>
        ) : (
          hint && <div className="hint">{hint}</div>
        )}
      </div>
    </div>
  );
}

/** Pairs of numbers, a line each. */
export function Lines({
  name,
  label,
  start = [],
  placeholder,
  wrong,
  hint,
}: {
  name: string;
  label: string;
  start?: readonly string[];
  placeholder: readonly string[];
  wrong: string | undefined;
  hint: string;
}) {
  const id = `run-${name}`;
  return (
    <div className="field">
      <label htmlFor={id}>{label}</label>
      <Input.TextArea
        id={id}
        name={name}
        rows={Math.max(4, start.length + 1)}
        className="m"
        defaultValue={start.join("\n")}
        placeholder={placeholder.join("\n")}
        aria-invalid={wrong ? true : undefined}
        aria-describedby={`${id}-says`}
      />
      <div id={`${id}-says`}>
        {wrong ? (
          <p className="wrong" role="alert">
            {wrong}
          </p>
        ) : (
          <div className="hint">{hint}</div>
        )}
      </div>
    </div>
  );
}

export function LotRow({
  material,
  known,
  today,
  wrong,
}: {
  material: { key: string; name: string };
  known: { code: string; expires_on: string | null } | undefined;
  today: string;
  wrong: string | undefined;
}) {
  const [expires, setExpires] = useState(known?.expires_on ?? "");
  const { key, name } = material;
  return (
    <div className="lot-row">
      <label htmlFor={`lot-${key}`}>{name}</label>
      <Input
        id={`lot-${key}`}
        name={`lot-${key}`}
        placeholder="Lot"
        defaultValue={known?.code ?? ""}
        className="m"
      />
      <Input
        aria-label={`${name}, good until`}
        name={`expires-${key}`}
        type="date"
        value={expires}
        onChange={(e) => setExpires(e.target.value)}
      />
      {(wrong || (expires && expires < today)) && (
        <Input
          aria-label={`Why use this bottle of ${name}`}
          name={`reason-${key}`}
          placeholder="Why use it all the same?"
        />
      )}
      {wrong && (
        <p className="wrong" role="alert">
          {wrong}
        </p>
      )}
    </div>
  );
}
