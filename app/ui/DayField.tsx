import { Input } from "antd";
import { useState } from "react";
import { showDate } from "../../core/time/words";

/** The day a browser's field means, in words; nothing while it means none, or a year of five figures. */
export const MeantDay = ({ day }: { day: string }) =>
  /^\d{4}-\d\d-\d\d$/.test(day) && (
    <>
      <b className="nowrap">{showDate(day, "whole")}</b>.
    </>
  );

/**
 * A labelled day. A browser writes it in the order of the language it is set to, day first or month first: what it took the day for stands
 * below it in words, since a bottle that expires on the fourth of March must not pass for one of the third of April.
 */
export function DayField({
  name,
  label,
  hint,
  wrong,
  initial = "",
  max,
}: {
  name: string;
  label: string;
  hint?: string;
  wrong?: string | undefined;
  initial?: string;
  /** The last day that can be meant. */
  max?: string;
}) {
  const [day, setDay] = useState(initial);
  return (
    <div className="field">
      <label htmlFor={name}>{label}</label>
      <Input
        id={name}
        name={name}
        type="date"
        size="large"
        autoComplete="off"
        value={day}
        onChange={(e) => setDay(e.target.value)}
        status={wrong ? "error" : ""}
        aria-invalid={wrong ? true : undefined}
        aria-describedby={`${name}-says`}
        {...(max ? { max } : {})}
      />
      <div id={`${name}-says`}>
        {wrong && <div className="wrong">{wrong}</div>}
        <div className="hint">
          <MeantDay day={day} /> {hint}
        </div>
      </div>
    </div>
  );
}
