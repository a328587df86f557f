import { describe, expect, it } from "vitest";
import { phBuffers } from "../reference/phBuffers";
import { lotCondition, lotSchema, portionsLeft } from "./lot";
import type { StandardLot } from "./standard";

const lot: StandardLot = {
  kind: "ph-buffer",
  code: "B7-1",
  name: "Technical 7.00",
  material: "technical-7",
  reference: null,
  uncertainty: 0.01,
  table: phBuffers["technical-7"].table,
  received_on: "2025-12-01",
  opened_on: "2026-01-01",
  expires_on: "2027-06-30",
  shelf_life_open_days: 30,
  size: null,
  portion: null,
  unit: "mL",
  place: "",
  hazards: [],
  withdrawn: null,
  discarded: null,
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
    const withdrawn = { ...lot, withdrawn: { on: "2026-01-10", since: "2026-01-05", reason: "Reads low." } };
    expect(lotCondition(withdrawn, "2026-01-09").state).toBe("good");
    expect(lotCondition(withdrawn, "2026-01-10").sentence).toContain("Reads low.");
  });
});

describe("lotSchema", () => {
  it("refuses impossible lots with a sentence at the field", () => {
    const bad = lotSchema.safeParse({ ...lot, code: " ", uncertainty: -1, expires_on: "soon" });
    const messages = Object.fromEntries((bad.error?.issues ?? []).map((i) => [i.path[0], i.message]));
    expect(messages.code).toContain("bottle");
    expect(messages.uncertainty).toContain("negative");
    expect(messages.expires_on).toContain("date");
  });
  it("asks of each kind what it needs", () => {
    const paths = (change: object) =>
      lotSchema.safeParse({ ...lot, ...change }).error?.issues.map((i) => i.path.join("."));
    expect(paths({ material: "lemonade" })).toEqual(["material"]);
    expect(paths({ table: [{ temperature_c: 25, value: 15 }] })).toEqual(["table", "table.0.value"]);
    expect(paths({ kind: "redox-standard", material: "" })).toEqual(["material", "reference"]);
    expect(paths({ kind: "conductivity-standard", table: [{ temperature_c: 25, value: 0 }] })).toEqual([
      "table",
    ]);
    expect(paths({ size: 10, portion: 25 })).toEqual(["portion"]);
  });
});

describe("portions", () => {
  it("are counted down, and unknown where nobody said the size", () => {
    expect(portionsLeft({ size: 500, portion: 25 }, 75)).toBe(17);
    expect(portionsLeft({ size: 500, portion: 25 }, 750)).toBe(0);
    expect(portionsLeft({ size: 0.3, portion: 0.1 }, 0)).toBe(3);
    expect(portionsLeft(lot, 3)).toBeNull();
  });
});
