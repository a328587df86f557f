import { describe, expect, it } from "vitest";
import { measurandFacts, measurands } from "../quantity/measurand";
import { guessImport } from "../results/importLines";
import { emptyMemory, loggedMoments, memorySize, memoryText, shownBySelf, withStored } from "./memory";

const moment = (at: string) => ({
  at,
  place: "Bathing pond",
  temperature_c: 14.6,
  values: { ph: 7.914, conductivity: 561.2 },
});

describe("what an instrument shows by itself", () => {
  // Source: Nernst equation, 58.16 mV at 20 °C.
  it("turns mV into pH by the ideal slope", () => {
    expect(shownBySelf("ph", -58.16, 20)).toBeCloseTo(8, 3);
    expect(shownBySelf("ph", 0, 5)).toBe(7);
  });

  // Source: linear compensation with the coefficient of potassium chloride, common practice.
  it("brings conductivity to 25 °C", () => {
    expect(shownBySelf("conductivity", 1278, 20)).toBeCloseTo(1413, 0);
    expect(shownBySelf("conductivity", 500, 25)).toBe(500);
  });

  // Source: Benson and Krause 1984: fresh water at 20 °C and one atmosphere holds 9.09 mg/L.
  it("knows oxygen as a share of what the water holds", () => {
    expect(shownBySelf("oxygen", 88.6, 20)).toBeCloseTo(9.09, 2);
    expect(shownBySelf("oxygen", 0, 20)).toBe(0);
  });

  it("passes on what it measures as it is, and has nothing for the rest", () => {
    expect(shownBySelf("temperature", 14.61, 14.6)).toBe(14.61);
    expect(shownBySelf("redox", 212, 14.6)).toBe(212);
    expect(shownBySelf("absorbance", 0.4, 20)).toBeNull();
    expect(shownBySelf("volume", 1, 20)).toBeNull();
  });
});

describe("an instrument's memory", () => {
  it("lets the oldest make room", () => {
    let memory = emptyMemory;
    for (let i = 0; i <= memorySize; i++)
      memory = withStored(memory, moment(new Date(i * 60_000).toISOString()));
    expect(memory.stored).toHaveLength(memorySize);
    expect(memory.stored[0]?.at).toBe("1970-01-01T00:01:00.000Z");
  });

  it("logs in even steps, each once", () => {
    const memory = { ...emptyMemory, every_min: 15, logged_until: "2026-04-20T08:00:00.000Z" };
    expect(loggedMoments(memory, "2026-04-20T08:14:59.000Z")).toEqual([]);
    expect(loggedMoments(memory, "2026-04-20T08:31:00.000Z")).toEqual([
      "2026-04-20T08:15:00.000Z",
      "2026-04-20T08:30:00.000Z",
    ]);
    const long = loggedMoments(memory, "2027-04-20T08:00:00.000Z");
    expect(long).toHaveLength(memorySize);
    expect(long.at(-1)).toBe("2027-04-20T08:00:00.000Z");
    expect(loggedMoments(emptyMemory, "2026-04-20T08:31:00.000Z")).toEqual([]);
    expect(loggedMoments(memory, "2026-04-19T08:31:00.000Z")).toEqual([]);
  });

  it("is given out as a table whose columns a reader knows", () => {
    const memory = withStored(emptyMemory, { ...moment("2026-04-20T08:15:00.000Z"), place: "Pond; north" });
    const text = memoryText(memory, "P-2", ["ph", "conductivity"]);
    expect(text.split("\r\n")).toEqual([
      "Date;Place;Instrument;pH;Conductivity (µS/cm);Temperature (°C)",
      "2026-04-20T08:15:00Z;Pond  north;P-2;7.91;561;14.6",
    ]);
    const { columns } = guessImport((text.split("\r\n")[0] ?? "").split(";"));
    expect(columns).toEqual({ measured_at: "Date", site: "Place", instrument: "Instrument" });
  });

  it("names the temperature once, however many sensors there are, and leaves out what it has no memory for", () => {
    const text = memoryText(emptyMemory, "P-2", ["temperature", "redox", "absorbance"]);
    expect(text).toBe("Date;Place;Instrument;Temperature (°C);Redox (mV)");
    const all = memoryText(emptyMemory, "P-2", [...measurands]);
    expect(all.split(measurandFacts.temperature.name)).toHaveLength(2);
  });
});
