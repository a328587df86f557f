import type { Method } from "../analysis/method";
import type { Job, Part } from "./job";

/** What stands on the bench once: only one test can use it at a time. */
const shared = new Set(["photometer", "burette"]);

/**
 * A run of a method as the planner sees it: one job a replicate, hands and waits in order. A wait whose clock starts
 * earlier than the step before it lasts only for what is left. What is done once is in the first job; seconds.
 * Source: the method. Check value: the two-pad strip waits 30 s, and 24 s more after 6 s of reading.
 */
export function jobsOf(method: Method, sample: string): Job[] {
  const equipment = method.equipment !== null && shared.has(method.equipment) ? method.equipment : null;
  return Array.from({ length: method.replicates }, (_, replicate) => {
    const parts: Part[] = [];
    const endAt = new Map<string, number>();
    let clock = 0;
    for (const step of method.steps) {
      if (step.kind === "wait") {
        const since = clock - (endAt.get(step.from) ?? clock);
        const min_s = Math.max(0, step.seconds - since);
        const max_s = step.exact ? min_s : step.max_s === null ? null : Math.max(min_s, step.max_s - since);
        parts.push({ kind: "wait", min_s, max_s });
        clock += min_s;
        continue;
      }
      if (step.once && replicate > 0) {
        endAt.set(step.id, clock);
        continue;
      }
      const held = equipment && (step.kind === "read" || step.kind === "blank") ? { equipment } : {};
      parts.push({ kind: "hands", seconds: step.hands_s, ...held });
      clock += step.hands_s;
      endAt.set(step.id, clock);
    }
    const of = method.replicates > 1 ? ` (${replicate + 1} of ${method.replicates})` : "";
    return { name: `${method.name}, ${sample}${of}`, parts };
  });
}

/** How soon the water of a sample must be measured: gases before pH, pH before nutrients. Sorts methods by what keeps least. */
export const byPerishability = (a: Method, b: Method): number =>
  a.sample.keeps_min - b.sample.keeps_min || a.name.localeCompare(b.name);
