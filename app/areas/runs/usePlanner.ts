import { startTransition, useEffect, useReducer, useRef, useState } from "react";
import type { TestJob } from "../../../core/planner/fromMethod";
import type { Align } from "../../../core/planner/plan";
import type { Planned } from "../../../core/planner/planner";
import type { PlannerAnswer, PlannerQuestion } from "../../workers/planner.worker";

export interface DrawnPlan {
  jobs: readonly TestJob[];
  planned: Planned;
  people: 1 | 2;
  align: Align;
}

/** The best plan for these jobs, found in a web worker; asks again whenever they change. `askAgain` where its script could not be fetched. */
export function usePlanner(jobs: TestJob[], people: 1 | 2, align: Align) {
  const [plan, setPlan] = useState<DrawnPlan | null>(null);
  const [busy, setBusy] = useState(false);
  const [missing, setMissing] = useState(false);
  const [looks, askAgain] = useReducer((before: number) => before + 1, 0);
  const worker = useRef<Worker | null>(null);
  const asked = useRef(0);
  useEffect(() => () => worker.current?.terminate(), []);
  // biome-ignore lint/correctness/useExhaustiveDependencies: asking again is a reason of its own
  useEffect(() => {
    // A question that has been overtaken need not be answered.
    worker.current?.terminate();
    asked.current++;
    setMissing(false);
    if (jobs.length === 0) {
      setPlan(null);
      setBusy(false);
      return;
    }
    worker.current = new Worker(new URL("../../workers/planner.worker.ts", import.meta.url), {
      type: "module",
    });
    setBusy(true);
    worker.current.onmessage = ({ data }: MessageEvent<PlannerAnswer>) => {
      if (data.id !== asked.current) return;
      startTransition(() => {
        setPlan(data.plan && { jobs, planned: data.plan, people, align });
        setBusy(false);
      });
    };
    worker.current.onerror = () => {
      setMissing(true);
      setBusy(false);
    };
    const question: PlannerQuestion = { id: asked.current, jobs, people, align };
    worker.current.postMessage(question);
  }, [jobs, people, align, looks]);
  return { plan, busy, askAgain: missing ? askAgain : null };
}
