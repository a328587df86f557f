import type { ComponentProps } from "react";
import type { Judgement, Reading } from "../server/results/readings.server";
import { AnalysisEvidencePanel } from "./AnalysisEvidence";
import { DerivedEvidencePanel } from "./DerivedEvidence";
import { ImportedEvidencePanel } from "./ImportedEvidence";
import { LaboratoryEvidencePanel } from "./LaboratoryEvidence";
import { ReadingEvidencePanel } from "./ReadingEvidence";

export interface AnyEvidence {
  reading: Reading;
  judgements: Judgement[];
  behind: ComponentProps<typeof ReadingEvidencePanel>["behind"];
  zone: string;
  back: string;
}

/** The panel of a result by what gave it. */
export default function EvidenceBySource({ reading, behind, ...rest }: AnyEvidence) {
  switch (reading.source) {
    case "meter":
      return <ReadingEvidencePanel reading={reading} behind={behind} {...rest} />;
    case "analysis":
      return <AnalysisEvidencePanel reading={reading} behind={behind} {...rest} />;
    case "laboratory":
      return <LaboratoryEvidencePanel reading={reading} {...rest} />;
    case "imported":
      return <ImportedEvidencePanel reading={reading} {...rest} />;
    case "derived":
      return <DerivedEvidencePanel reading={reading} {...rest} />;
  }
}
