import { useNow } from "../useNow";

const clock = (seconds: number) => `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, "0")}`;

/** How long the probe has been in the solution, for a meter whose display is read by eye: it is not read before its time. */
export function SettlingClock({ since, seconds }: { since: string; seconds: number }) {
  const now = useNow(Date.parse(since));
  const passed = Math.max(0, Math.floor((now - Date.parse(since)) / 1000));
  const settled = passed >= seconds;
  return (
    <div
      className="settle-clock"
      role="timer"
      aria-label={`${clock(passed)} in the solution, read it from ${clock(seconds)} on`}
    >
      <b className="m">{clock(passed)}</b>
      <span>
        {settled
          ? "in the solution. Read the display once it stands still."
          : `in the solution. Let it settle until ${clock(seconds)}, and until it stands still.`}
      </span>
      <progress max={seconds} value={Math.min(passed, seconds)} aria-hidden="true" />
    </div>
  );
}
