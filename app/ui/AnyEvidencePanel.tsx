import { Suspense } from "react";
import type { AnyEvidence } from "./EvidenceBySource";
import { lazyPart } from "./lazyPart";

// Loaded when a result is chosen: who only looks through a list does not need it.
const EvidenceBySource = lazyPart(() => import("./EvidenceBySource"));

/** What any result rests on, whatever gave it. */
export const AnyEvidencePanel = (evidence: AnyEvidence) => (
  <Suspense>
    <EvidenceBySource {...evidence} />
  </Suspense>
);
