import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { phBuffers } from "../../core/reference/phBuffers";
import { healthyPhTruth } from "../../core/simulation/phMeter";
import { deviceTime, findDevice, moveProbe, samplesBetween, setFaults, setSpeed } from "./devices.server";
import { fieldErrors, numberField, textField } from "./forms.server";
import { jumpPlaces } from "./jump.server";
import { bufferLotFromForm } from "./lotForm.server";
import { addLot, changeLot, findLot, listLots, lotHistory, lotSnapshot, nominalPh } from "./lots.server";
import { addMeter, findMeter, listMeters, newMeterSchema } from "./meters.server";
import { addPerson, findPerson, listPeople, newPersonSchema } from "./people.server";
import { rulesInForce, rulesOfVersion } from "./rules.server";
import { safeNext } from "./session.server";
import { addSite, expectedRange, listSites, newSiteSchema } from "./sites.server";
import { openTestBench, type TestBench, testNow } from "./testing/testBench";

let bench: TestBench;
beforeEach(async () => {
  bench = await openTestBench();
});
afterEach(() => bench.db.destroy());

const form = (fields: Record<string, string>) => {
  const data = new FormData();
  for (const [name, value] of Object.entries(fields)) data.set(name, value);
  return data;
};

describe("people", () => {
  it("have names of their own", async () => {
    expect(await addPerson(bench.db, { name: "Noor", role: "reviewer" }, null, testNow)).toBeNull();
    const idris = await addPerson(
      bench.db,
      newPersonSchema.parse({ name: "  Idris " }),
      bench.person.id,
      testNow,
    );
    expect(idris).toMatchObject({ name: "Idris", role: "technician" });
    expect((await listPeople(bench.db)).map((p) => p.name)).toEqual(["Idris", "Noor"]);
    expect(await findPerson(bench.db, "nobody")).toBeUndefined();
  });
});

describe("sites", () => {
  it("keep the order in which they were added and give the range to expect", async () => {
    const spring = { name: "Spring", water: "spring", expected_ph_low: 6.1, expected_ph_high: 7 };
    expect((await addSite(bench.db, spring, bench.person.id, testNow))?.position).toBe(2);
    expect(await addSite(bench.db, spring, bench.person.id, testNow)).toBeNull();
    expect((await listSites(bench.db)).map((s) => s.name)).toEqual(["Bathing pond", "Spring"]);
    expect(await expectedRange(bench.db)).toEqual({ low: 6.1, high: 8.6 });
  });
  it("refuse a range upside down, at the field", () => {
    const bad = newSiteSchema.safeParse({ name: "x", water: "x", expected_ph_low: 8, expected_ph_high: 7 });
    expect(bad.error && fieldErrors(bad.error)).toEqual({
      expected_ph_high: "The upper end of the range must be above the lower end.",
    });
    const empty = newSiteSchema.safeParse({
      name: "",
      water: "",
      expected_ph_low: Number.NaN,
      expected_ph_high: 99,
    });
    expect(Object.keys(empty.error ? fieldErrors(empty.error) : {})).toEqual([
      "name",
      "water",
      "expected_ph_low",
      "expected_ph_high",
    ]);
  });
});

describe("meters", () => {
  const kind = { name: "Pocket", place: "field", has_cable: true, probe_installed_on: "2026-01-01" } as const;
  it("that show only pH have no signal to send, whatever was ticked", async () => {
    const pocket = await addMeter(
      bench.db,
      { ...kind, code: "K-1", display: "value" },
      bench.person.id,
      testNow,
    );
    expect(pocket?.has_cable).toBe(false);
    expect(await findDevice(bench.db, pocket?.id ?? "")).toBeUndefined();
    expect(await findMeter(bench.db, pocket?.id ?? "")).toEqual(pocket);
  });
  it("have codes of their own", async () => {
    expect(
      await addMeter(bench.db, { ...kind, code: "P-2", display: "signal" }, bench.person.id, testNow),
    ).toBeNull();
    expect(await listMeters(bench.db)).toHaveLength(1);
  });
  it("are refused in words", () => {
    const bad = newMeterSchema.safeParse({
      code: "",
      name: "",
      display: "x",
      place: "y",
      has_cable: false,
      probe_installed_on: "",
    });
    const errors = bad.error ? fieldErrors(bad.error) : {};
    expect(errors.code).toContain("short code");
    expect(errors.display).toContain("Choose what");
    expect(errors.probe_installed_on).toContain("date");
  });
});

describe("a simulated instrument", () => {
  it("keeps its own clock, and sends four samples a second of it", async () => {
    await setSpeed(bench.db, bench.meter.id, 20, testNow);
    const device = await findDevice(bench.db, bench.meter.id);
    if (!device) throw new Error("no device");
    const later = Date.parse(testNow) + 3000;
    expect(deviceTime(device, later) - deviceTime(device, Date.parse(testNow))).toBeCloseTo(60, 6);
    expect(samplesBetween(device, 0, 10)).toHaveLength(40);
    expect(samplesBetween(device, 10, 10.1)).toHaveLength(0);
    expect(samplesBetween(device, 0, 1)[0]?.status).toBe("not-in-solution");
  });
  it("remembers its medium and its faults", async () => {
    const water = { label: "Bathing pond", kind: "sample" as const, ph: 8, temperature_c: 15 };
    await moveProbe(bench.db, bench.meter.id, water, "2026-04-12T08:01:00.000Z");
    await setFaults(bench.db, bench.meter.id, ["aged-glass"], "2026-04-12T08:02:00.000Z");
    const device = await findDevice(bench.db, bench.meter.id);
    expect(device?.state.medium).toEqual(water);
    expect(device?.state.truth).toEqual({ ...healthyPhTruth(7), faults: ["aged-glass"] });
    expect(device?.device_s).toBeCloseTo(120, 6);
  });
  it("ignores a meter without one", async () => {
    await expect(setSpeed(bench.db, "none", 5, testNow)).resolves.toBeUndefined();
  });
});

describe("lots", () => {
  const [id, by] = ["", ""];
  it("are changed by new versions, each with its reason", async () => {
    const lot = bench.lots[0];
    if (!lot) throw new Error("no lot");
    const withdrawn = { on: "2026-04-12", reason: "Cloudy." };
    const changed = await changeLot(
      bench.db,
      lot.id,
      (l) => ({ ...l, withdrawn }),
      bench.person.id,
      testNow,
      "Cloudy.",
    );
    expect(changed?.version).toBe(2);
    expect((await findLot(bench.db, lot.id))?.lot.withdrawn).toEqual(withdrawn);
    expect((await lotHistory(bench.db, lot.id)).map((v) => [v.version, v.reason, v.by])).toEqual([
      [2, "Cloudy.", "Noor"],
      [1, "registered", "Noor"],
    ]);
    expect(await changeLot(bench.db, id, (l) => l, by, testNow, "x")).toBeUndefined();
  });
  it("cannot be changed into nonsense", async () => {
    const lot = bench.lots[0];
    if (!lot) throw new Error("no lot");
    await expect(
      changeLot(bench.db, lot.id, (l) => ({ ...l, uncertainty_ph: -1 }), bench.person.id, testNow, "x"),
    ).rejects.toThrow();
    expect((await findLot(bench.db, lot.id))?.version).toBe(1);
  });
  it("have codes of their own", async () => {
    const lot = bench.lots[0];
    expect(lot && (await addLot(bench.db, lot.lot, bench.person.id, testNow))).toBeNull();
    expect(await listLots(bench.db)).toHaveLength(3);
  });
  it("are kept by a calibration as they are that day, with the reason only where one is needed", () => {
    const lot = bench.lots[0];
    if (!lot) throw new Error("no lot");
    expect(lotSnapshot(lot, "2026-04-12", "because")).toMatchObject({
      condition: "good",
      reason_for_use: null,
      nominal_ph: 7,
    });
    expect(lotSnapshot(lot, "2026-12-01", "because")).toMatchObject({
      condition: "open-too-long",
      reason_for_use: "because",
    });
    expect(
      nominalPh({
        ...lot.lot,
        table: [
          { temperature_c: 0, ph: 7.1 },
          { temperature_c: 20, ph: 7 },
        ],
      }),
    ).toBe(7.1);
  });
  it("are read from a form, with the certificate's own table where it was typed", () => {
    const fields = {
      buffer: "technical-7",
      code: "X",
      uncertainty_ph: "0,02",
      received_on: "2026-01-01",
      opened_on: "",
      expires_on: "2027-01-01",
      shelf_life_open_days: "60",
      ph_25: "7.004",
    };
    const lot = bufferLotFromForm(form(fields));
    expect(lot.data).toMatchObject({
      uncertainty_ph: 0.02,
      opened_on: null,
      name: phBuffers["technical-7"].name,
    });
    expect(lot.data?.table.find((row) => row.temperature_c === 25)?.ph).toBe(7.004);
    expect(lot.data?.table.find((row) => row.temperature_c === 20)?.ph).toBe(7.02);
    const bad = bufferLotFromForm(form({ ...fields, buffer: "lemonade", shelf_life_open_days: "" }));
    expect(bad.error && Object.keys(fieldErrors(bad.error))).toEqual(
      expect.arrayContaining(["buffer", "table", "shelf_life_open_days"]),
    );
  });
});

describe("house rules", () => {
  it("are found by the version a record kept", async () => {
    const { version } = await rulesInForce(bench.db);
    expect((await rulesOfVersion(bench.db, version)).rules.ph.duplicate_ph).toBe(0.1);
    await expect(rulesOfVersion(bench.db, 99)).rejects.toThrow("version 99");
  });
});

describe("the jump box", () => {
  it("knows every meter, site, lot and calculator", async () => {
    const labels = (await jumpPlaces(bench.db)).map((p) => p.label);
    expect(labels).toEqual(
      expect.arrayContaining([
        "Calibrate P-2",
        "Bathing pond",
        "Lot L-borate",
        "pH of a sample from its signal",
      ]),
    );
  });
});

describe("form fields", () => {
  it("take a decimal comma, and nothing for a number", () => {
    const data = form({ a: " 7,4 ", b: "", c: "x" });
    expect(numberField(data, "a")).toBe(7.4);
    expect(numberField(data, "b")).toBeNaN();
    expect(numberField(data, "c")).toBeNaN();
    expect(textField(data, "missing")).toBe("");
  });
});

describe("where to go after choosing a person", () => {
  it.each([
    ["/ledger?site=1", "/ledger?site=1"],
    ["//elsewhere.example", "/"],
    ["/\\elsewhere.example", "/"],
    ["https://elsewhere.example", "/"],
    [null, "/"],
  ])("from %s to %s", (next, to) => {
    expect(safeNext(next)).toBe(to);
  });
});
