import { isDeepStrictEqual } from "node:util";
import type { Knex } from "knex";
import { analyteName } from "../../../core/methods/methodWords";
import { withAmended } from "../../../core/results/amended";
import { judgeLaboratory } from "../../../core/results/judgeLaboratory";
import type { LaboratoryEvidence } from "../../../core/results/laboratoryEvidence";
import type { CameResult, CustodyState } from "../../../core/samples/custody";
import type { BenchWork, Finishing } from "../bench/benchWork.server";
import { followResults } from "../quality/followResults.server";
import { samplingReader } from "../samples/sampling.server";
import { splitEvidence } from "./evidenceDocument.server";
import { rulesForReading } from "./news.server";
import { readingsOfWork } from "./readings.server";
import { reportedColumns } from "./reportedValue.server";
import { usualBefore } from "./usual.server";
import { judgedColumns, writeReading } from "./writeReading.server";

/** Writes the results that a laboratory sent for a batch; one that is known and unchanged stays as it is. */
export async function projectLaboratory(
  trx: Knex,
  work: BenchWork,
  state: CustodyState,
  finishing: Finishing,
): Promise<void> {
  if (state.results.length === 0) return;
  const { rules, version } = await rulesForReading(trx, work, state.started_at);
  const present = new Map((await readingsOfWork(trx, work.id)).map((r) => [r.id, r]));
  const samplingOf = await samplingReader(
    trx,
    state.samples.map((s) => s.id),
    work.id,
  );
  const changed: string[] = [];
  for (const came of state.results) {
    const sample = state.samples.find((s) => s.id === came.sample_id);
    if (!sample) continue;
    const id = `${work.id}-${came.sample_id}-${came.parameter}`;
    const reading = present.get(id);
    const known = reading?.source === "laboratory" ? reading.evidence : undefined;
    const { site_id } = sample;
    const measured_at = came.measured_at ?? came.came_at;
    const sampling = samplingOf(came.sample_id, came.parameter);
    const sent: LaboratoryEvidence = {
      source: "laboratory",
      batch_id: work.id,
      laboratory: state.batch.laboratory,
      // The register knows what its visit said last; the paper may be older.
      collected_at: sampling?.filled_at ?? sample.collected_at,
      measured_at,
      dated: came.measured_at !== null,
      finished_at: came.came_at,
      method: came.method,
      detection_limit: came.detection_limit,
      result: resultOf(came),
      reported: came.found,
      written: `${came.written} ${came.written_unit}`.trim(),
      file: { ...came.file, line: came.line },
      usual: known ? known.usual : await usualBefore(trx, site_id, named(came), measured_at),
      ...(sampling ? { sampling } : {}),
      ...(known?.voided ? { voided: known.voided } : {}),
    };
    const evidence = known?.amended ? withAmended(sent, known.amended) : sent;
    if (isDeepStrictEqual(evidence, known)) continue;
    changed.push(id);
    const [kept] = await splitEvidence(trx, [evidence]);
    const again = known && !isDeepStrictEqual(known.file, evidence.file);
    const row = {
      id,
      work_id: work.id,
      source: "laboratory",
      parameter: came.parameter,
      analyte: named(came).analyte,
      method: [state.batch.laboratory, came.method].filter(Boolean).join(", "),
      site_id,
      meter_id: null,
      calibration_id: null,
      sample: sample.code,
      sample_id: sample.id,
      ...reportedColumns(evidence, rules),
      decimals: came.decimals,
      unit: came.unit,
      temperature_c: null,
      grade: null,
      check_evidence: null,
      ...judgedColumns(evidence, judgeLaboratory(evidence, rules), version, finishing),
    };
    await writeReading(
      trx,
      row,
      kept,
      finishing,
      again ? "the laboratory sent it again" : "more became known of the way to the laboratory",
    );
  }
  await followResults(trx, changed, "the laboratory sent results", finishing);
}

const resultOf = ({ parameter, analyte, species, unit, decimals }: CameResult) => ({
  parameter,
  analyte,
  species,
  unit,
  decimals,
});

const named = (came: CameResult) => ({ parameter: came.parameter, analyte: analyteName(came) });
