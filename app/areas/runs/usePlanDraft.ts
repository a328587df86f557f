import { startTransition, useCallback, useEffect, useState } from "react";
import { ulid } from "ulid";
import { draftKey } from "./planDraft";
import type { PlanDraft } from "./readDraft";

const nothing: PlanDraft = { id: "", tests: [], people: 1, align: "earliest" };

/**
 * The draft of a plan, which this browser keeps until it is started. What reads a kept one is loaded where there is one;
 * until it is known whether there is, nothing is changed: an empty draft would come in its place. `again` where what reads it could not
 * be fetched.
 */
export function usePlanDraft() {
  const [draft, setDraft] = useState(nothing);
  const [known, setKnown] = useState(false);
  const [missing, setMissing] = useState(false);
  const look = useCallback(() => {
    const begin = (kept: PlanDraft | null) =>
      startTransition(() => {
        setDraft(kept ?? nothing);
        setKnown(true);
      });
    const kept = localStorage.getItem(draftKey);
    if (!kept) return begin(null);
    import("./readDraft").then(
      ({ readDraft }) => {
        setMissing(false);
        begin(readDraft(kept));
      },
      () => setMissing(true),
    );
  }, []);
  useEffect(look, [look]);
  const change = (part: Partial<PlanDraft>) => {
    if (!known) return;
    // A plan that was changed is another plan.
    const after = { ...draft, ...part, id: ulid() };
    setDraft(after);
    localStorage.setItem(draftKey, JSON.stringify(after));
  };
  return { draft, known, change, again: missing ? look : null };
}
