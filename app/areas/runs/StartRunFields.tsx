import "./runs.css";
import { Input } from "antd";
import { useState } from "react";
import type { Bottle } from "../../server/stock/bottlesFor.server";
import { MeantDay } from "../../ui/DayField";

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
  onText,
  wrong,
  hint,
}: {
  name: string;
  label: string;
  start?: readonly string[];
  placeholder: readonly string[];
  onText?(text: string): void;
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
        onChange={(e) => onText?.(e.target.value)}
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

/** The bottle of the shelf that bears a code, whatever its letters. */
export const bottleCalled = (bottles: readonly Bottle[], code: string): Bottle | undefined =>
  bottles.find((b) => b.code.toLowerCase() === code.trim().toLowerCase());

/** What stood on the bench last; when that is used up or out of date, the next one on the shelf. */
export function proposedCode(known: string | undefined, bottles: readonly Bottle[]): string {
  const last = known && bottleCalled(bottles, known);
  return known && (!last || last.good) ? known : (bottles[0]?.code ?? known ?? "");
}

/** One bottle on the bench: written, scanned or chosen from the shelf, which knows the rest of it. */
export function LotRow({
  material,
  code,
  onCode,
  bottles,
  until,
  today,
  wrong,
}: {
  material: { key: string; name: string };
  code: string;
  onCode(code: string): void;
  bottles: readonly Bottle[];
  /** Until when the bottle of the last run was good, where the shelf does not know it. */
  until: string | null;
  today: string;
  wrong: string | undefined;
}) {
  const [expires, setExpires] = useState(until ?? "");
  const bottle = bottleCalled(bottles, code);
  const { key, name } = material;
  return (
    <div className="lot-row">
      <label htmlFor={`lot-${key}`}>{name}</label>
      <Input
        id={`lot-${key}`}
        name={`lot-${key}`}
        placeholder="Lot"
        value={code}
        onChange={(e) => onCode(e.target.value)}
        list={`lots-${key}`}
        autoComplete="off"
        className="m"
        aria-describedby={`says-${key}`}
      />
      <datalist id={`lots-${key}`}>
        {bottles.map((b) => (
          <option key={b.code} value={b.code}>
            {b.name}
          </option>
        ))}
      </datalist>
      {bottle ? (
        <p id={`says-${key}`} className={bottle.good ? "quiet small" : "small"}>
          {bottle.says}
        </p>
      ) : (
        <div className="field">
          <Input
            aria-label={`${name}, good until`}
            name={`expires-${key}`}
            type="date"
            value={expires}
            onChange={(e) => setExpires(e.target.value)}
          />
          <MeantDay day={expires} />
        </div>
      )}
      {(wrong || (bottle ? !bottle.good : expires && expires < today)) && (
        <Input
          aria-label={`Why use this bottle of ${name}`}
          name={`reason-${key}`}
          className="lot-reason"
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
