import { describe, expect, it } from "vitest";
import { resamplesOf, type VisitResult } from "./resample";

const result = (part: Partial<VisitResult>): VisitResult => ({
  site_id: "pond",
  site: "Bathing pond",
  parameter: "oxygen",
  analyte: "Dissolved oxygen",
  at: "2026-04-12T08:00:00.000Z",
  work_id: "w",
  agreed: true,
  ...part,
});
const disagreed = result({ agreed: false, work_id: "bad" });
const ph = result({ parameter: "ph", analyte: "pH", at: "2026-04-12T07:50:00.000Z" });

describe("water that has to be collected anew", () => {
  it("is none while results agree", () => {
    expect(resamplesOf([result({}), ph])).toEqual([]);
  });

  it("is asked for with what else of the visit keeps for minutes only, and with nothing that keeps", () => {
    const nitrate = result({ parameter: "nitrate", analyte: "Nitrate as NO3-N" });
    const elsewhere = { ...ph, site_id: "basin", analyte: "pH elsewhere" };
    expect(resamplesOf([disagreed, ph, ph, nitrate, elsewhere])).toEqual([
      {
        site_id: "pond",
        site: "Bathing pond",
        work_id: "bad",
        at: disagreed.at,
        of: "Dissolved oxygen",
        with: ["pH"],
      },
    ]);
  });

  it("is settled by a later result of the same parameter there, and asked for again when that disagrees too", () => {
    const later = result({ at: "2026-04-12T09:00:00.000Z" });
    expect(resamplesOf([disagreed, later])).toEqual([]);
    expect(resamplesOf([disagreed, { ...later, site_id: "basin" }])).toHaveLength(1);
    expect(resamplesOf([disagreed, { ...later, agreed: false, work_id: "again" }])).toMatchObject([
      { work_id: "again" },
    ]);
  });
});
