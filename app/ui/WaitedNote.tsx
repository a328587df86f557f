import { duration, showTime } from "../../core/time/words";
import type { Waited } from "../server/results/waited.server";
import { DueMark } from "./DueMark";

/** Says before anything is measured that the water has stood too long for it. */
export function WaitedNote({
  waited: { code, filled_at, late },
  wordOf,
  zone,
}: {
  waited: Waited;
  /** A quantity as it stands inside a sentence. */
  wordOf(parameter: string): string;
  zone: string;
}) {
  const times = [...new Set(late.map((l) => l.keeps_min))];
  return (
    <p className="note">
      <DueMark />
      <span>
        {code} was filled {showTime(filled_at, zone, "both")}.{" "}
        {times.map((keeps_min) => {
          const words = late.filter((l) => l.keeps_min === keeps_min).map((l) => wordOf(l.parameter));
          return `For ${words.join(" and ")} it keeps ${duration(keeps_min * 60)}. `;
        })}
        The result will say that it waited longer.
      </span>
    </p>
  );
}
