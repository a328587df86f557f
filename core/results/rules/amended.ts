import type { Finding } from "../../judgement/finding";
import type { Found } from "../../quantity/found";

/** A value that somebody corrected after it was judged: a slip of the pen, digits that changed places. What was measured stays beside it. */
export interface Amended {
  /** What counts now. For a meter it stands for what was measured: a drift is still taken out of it. */
  found: Found;
  /** What it was before, as it was written. */
  was: string;
  at: string;
  by: string;
  reason: string;
}

/** A value that was corrected says so: whoever uses it knows that it is not what the bench wrote down first. */
export const judgeAmended = (amended: Amended | undefined): Finding[] =>
  amended
    ? [
        {
          rule: "amended",
          severity: "qualify",
          measured: `was ${amended.was}`,
          limit: "as it was written down first",
          sentence: `Amended by ${amended.by}: ${amended.reason}`,
          action: "",
        },
      ]
    : [];
