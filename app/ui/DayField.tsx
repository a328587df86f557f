import { useState } from "react";
import { showDate } from "../../core/time/words";
import { TypedField } from "./TypedField";

/** The day a browser's field means, in words; nothing while it means none, or a year of five figures. */
export const MeantDay = ({ day }: { day: string }) =>
  /^\d{4}-\d\d-\d\d$/.test(day) && (
    <div className="hint">
      <b>{showDate(day, "whole")}</b>
    </div>
  );

/**
 * A labelled day. A browser writes it in the order of the language it is set to, day first or month first: what it took the day for stands
 * below it in words, since a bottle that expires on the fourth of March must not pass for one of the third of April.
 */
export function DayField({
  initial = "",
  ...rest
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
  return <TypedField {...rest} type="date" value={day} onChange={setDay} meant={<MeantDay day={day} />} />;
}
