import { describe, expect, it } from "vitest";
import { phBuffers } from "../reference/phBuffers";
import { guessLots, looksLikeLots, lotFieldOf, lotKindNamed, readLotLine, unmappedLots } from "./lotLines";
import { standardFacts, standardKinds } from "./standard";
import { supplyFacts, supplyKinds } from "./supply";

const head = ["Kind", "Lot", "Name", "Expires", "Received", "Opened", "Keeps, once opened, days", "Hazards"];
const mapping = guessLots(head, [{ Expires: "31.12.2027" }]);

describe("the head of a list of lots", () => {
  it("is known by what it says", () => {
    expect(mapping.columns).toEqual({
      kind: "Kind",
      code: "Lot",
      name: "Name",
      expires_on: "Expires",
      received_on: "Received",
      opened_on: "Opened",
      shelf_life_open_days: "Keeps, once opened, days",
      hazard: "Hazards",
    });
    expect(mapping.dates).toBe("day-first");
    expect(looksLikeLots(head)).toBe(true);
  });

  it("gives each column to one field", () => {
    const { columns } = guessLots(["Lot", "Strength", "Strength unit", "Strength uncertainty", "Expires"]);
    expect(columns).toMatchObject({
      strength: "Strength",
      strength_unit: "Strength unit",
      strength_u: "Strength uncertainty",
    });
    const given = Object.values(columns);
    expect(new Set(given).size).toBe(given.length);
  });

  it("is not that of a table of results", () => {
    expect(looksLikeLots(["Site", "Date", "pH", "EC (mS/cm)"])).toBe(false);
    expect(looksLikeLots(["Sample", "Parameter", "Value", "Unit", "Batch"])).toBe(false);
  });

  it("leaves open what nobody can do without", () => {
    expect(unmappedLots(head, mapping)).toBeNull();
    const without = (field: keyof typeof mapping.columns) =>
      unmappedLots(head, { ...mapping, columns: { ...mapping.columns, [field]: undefined } });
    expect(without("kind")).toContain("names the kind");
    expect(without("code")).toContain("the lot on the bottle");
    expect(without("expires_on")).toContain("when it expires");
    expect(unmappedLots(["Other"], mapping)).toContain("names the kind");
  });
});

describe("a kind", () => {
  it("is known by its words and by its name in files, whatever its letters", () => {
    for (const k of standardKinds) {
      expect(lotKindNamed(k)).toBe(k);
      expect(lotKindNamed(standardFacts[k].words.toUpperCase())).toBe(k);
    }
    for (const k of supplyKinds) {
      expect(lotKindNamed(k)).toBe(k);
      expect(lotKindNamed(` ${supplyFacts[k].words} `)).toBe(k);
    }
    expect(lotKindNamed("soup")).toBeNull();
  });
});

describe("a line of a list of lots", () => {
  it("is what somebody would have put into the form", () => {
    const { fields, wrong } = readLotLine(
      {
        Kind: "pH buffer",
        Lot: "B7-21",
        Name: "Technical 7.00",
        Expires: "31.12.2027",
        Received: "1.3.2026",
        Opened: "",
        "Keeps, once opened, days": "90",
        Hazards: "Harmful; environment",
      },
      mapping,
    );
    expect(wrong).toEqual([]);
    expect(fields).toEqual({
      kind: ["ph-buffer"],
      material: ["technical-7"],
      code: ["B7-21"],
      name: ["Technical 7.00"],
      expires_on: ["2027-12-31"],
      received_on: ["2026-03-01"],
      shelf_life_open_days: ["90"],
      hazard: ["harmful", "environment"],
    });
  });

  it.each(Object.values(phBuffers))("knows the buffer $name by name and by id", ({ id, name }) => {
    const material = (text: string) =>
      readLotLine({ M: text, K: "pH buffer" }, { columns: { material: "M", kind: "K" }, dates: "year-first" })
        .fields.material;
    expect(material(name)).toEqual([id]);
    expect(material(id)).toEqual([id]);
  });

  it("says of each cell what is not understood", () => {
    const { wrong } = readLotLine({ Kind: "soup", Expires: "soon", Hazards: "harmful; loud" }, mapping);
    expect(wrong).toEqual([
      {
        field: "expires_on",
        reason: "“soon” is not a date in the order chosen. Look at the order of dates.",
      },
      {
        field: "hazard",
        reason:
          "“loud” is none of flammable, oxidising, corrosive, toxic, harmful, health, environment, gas, explosive.",
      },
      { field: "kind", reason: "“soup” is no kind that is known here." },
    ]);
    expect(readLotLine({}, mapping).wrong).toEqual([{ field: "kind", reason: "There is no kind." }]);
    expect(readLotLine({ Kind: "titrant", Expires: "31.02.2027" }, mapping).wrong).toHaveLength(1);
  });
});

it("what is wrong with a lot stands at a column", () => {
  expect(lotFieldOf("table.0.value")).toBe("value");
  expect(lotFieldOf("strength.uncertainty")).toBe("strength_u");
  expect(lotFieldOf("serves.0")).toBe("serves");
  expect(lotFieldOf("expires_on")).toBe("expires_on");
  expect(lotFieldOf("kit.method")).toBeNull();
});
