import { addDays } from "../../../core/time/zone";

export interface Span {
  label: string;
  from: string | undefined;
  to: string | undefined;
}

/** The spans of days people ask for, ending today; Monday is no boundary, since weeks differ between houses. */
export function usualSpans(today: string): Span[] {
  const last = (label: string, days: number): Span => ({ label, from: addDays(today, 1 - days), to: today });
  return [
    { label: "Any day", from: undefined, to: undefined },
    { label: "Today", from: today, to: today },
    last("Last 7 days", 7),
    last("Last 30 days", 30),
    last("Last 12 weeks", 84),
  ];
}
