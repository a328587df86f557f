import { describe, expect, it } from "vitest";
import { phBuffers } from "../reference/phBuffers";
import { type BufferLot, bufferLotSchema, lotCondition } from "./lot";

const lot: BufferLot = {
  kind: "ph-buffer",
  code: "B7-1",
  name: "Technical 7.00",
  buffer: "technical-7",
  uncertainty_ph: 0.01,
  table: phBuffers["technical-7"].table,
  received_on: "2025-12-01",
  opened_on: "2026-01-01",
  expires_on: "2027-06-30",
  shelf_life_open_days: 30,
  withdrawn: null,
};

describe("lotCondition", () => {
  it("ends with the life after opening or the printed date, whichever comes first", () => {
    expect(lotCondition(lot, "2026-01-31")).toMatchObject({ state: "good", good_until: "2026-01-31" });
    expect(lotCondition(lot, "2026-02-01")).toMatchObject({ state: "open-too-long" });
    expect(lotCondition({ ...lot, opened_on: null }, "2027-06-30").state).toBe("good");
    expect(lotCondition({ ...lot, opened_on: null }, "2027-07-01").state).toBe("expired");
    expect(lotCondition({ ...lot, expires_on: "2026-01-10" }, "2026-01-11").good_until).toBe("2026-01-10");
  });
  it("counts a withdrawal from its day on", () => {
    const withdrawn = { ...lot, withdrawn: { on: "2026-01-10", reason: "Reads low." } };
    expect(lotCondition(withdrawn, "2026-01-09").state).toBe("good");
    expect(lotCondition(withdrawn, "2026-01-10").sentence).toContain("Reads low.");
  });
});

describe("bufferLotSchema", () => {
  it("refuses impossible lots with a sentence at the field", () => {
    const bad = bufferLotSchema.safeParse({ ...lot, code: " ", uncertainty_ph: -1, expires_on: "soon" });
    const messages = Object.fromEntries((bad.error?.issues ?? []).map((i) => [i.path[0], i.message]));
    expect(messages.code).toContain("bottle");
    expect(messages.uncertainty_ph).toContain("negative");
    expect(messages.expires_on).toContain("date");
  });
});
