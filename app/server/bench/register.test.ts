import { describe, expect, it } from "vitest";
import { phBuffers } from "../../../core/reference/phBuffers";
import { usualFault } from "../../../core/simulation/fault";
import { mediumOf } from "../../../core/simulation/medium";
import { isStandard } from "../../../core/stock/lot";
import { jumpPlaces } from "../day/jump.server";
import {
  deviceTime,
  findDevice,
  moveProbe,
  samplesBetween,
  setFaults,
  setFollows,
  setSpeed,
} from "../devices/devices.server";
import { placesFor, putProbe } from "../devices/handOutside.server";
import { meterFromForm } from "../meters/meterForm.server";
import { addMeter, findMeter, metersInUse } from "../meters/meters.server";
import { recordService, serviceLog } from "../meters/service.server";
import { addPerson, findPerson, listPeople, newPersonSchema } from "../people/people.server";
import { fieldErrors } from "../platform/forms.server";
import { changeRules, rulesHistory, rulesInForce, rulesOfVersion } from "../rules/rules.server";
import { siteFromForm } from "../sites/siteForm.server";
import { addSite, expectedOverall, sitesInUse } from "../sites/sites.server";
import { lotFromForm } from "../stock/lotForm.server";
import { addLot, changeLot, findLot, lotHistory } from "../stock/lots.server";
import { nominalValue, standardShelf, standardSnapshot } from "../stock/standards.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { calibratedPh, calibratedPond, testLot, testMeter, testNow } from "../testing/testBench";

const use = benchForEachTest();

const form = (fields: Record<string, string>) => {
  const data = new FormData();
  for (const [name, value] of Object.entries(fields)) data.set(name, value);
  return data;
};

describe("people", () => {
  it("have names of their own", async () => {
    expect(
      await addPerson(use.bench.db, { name: "Noor", role: "reviewer" }, use.bench.person, testNow),
    ).toBeNull();
    const idris = await addPerson(
      use.bench.db,
      newPersonSchema.parse({ name: "  Idris " }),
      use.bench.person,
      testNow,
    );
    expect(idris).toMatchObject({ name: "Idris", role: "technician" });
    expect((await listPeople(use.bench.db)).map((p) => p.name)).toEqual(["Idris", "Noor"]);
    expect(await findPerson(use.bench.db, "nobody")).toBeUndefined();
  });
});

describe("sites", () => {
  const spring = {
    name: "Spring",
    water: "spring",
    ph_low: 6.1,
    ph_high: 7,
    conductivity_low: null,
    conductivity_high: null,
    altitude_m: null,
  };
  it("keep the order in which they were added and give the ranges to expect", async () => {
    expect((await addSite(use.bench.db, spring, use.bench.person, testNow))?.position).toBe(2);
    expect(await addSite(use.bench.db, spring, use.bench.person, testNow)).toBeNull();
    const sites = await sitesInUse(use.bench.db);
    expect(sites.map((s) => s.name)).toEqual(["Bathing pond", "Spring"]);
    expect(expectedOverall(sites)).toEqual({
      ph: { low: 6.1, high: 8.6 },
      conductivity: { low: 400, high: 800 },
    });
    expect(expectedOverall([])).toEqual({});
  });
  it("refuse a range upside down or half given, at the field", () => {
    const errors = (fields: Record<string, string>) => {
      const bad = siteFromForm(form({ name: "x", water: "x", ph_low: "7", ph_high: "8", ...fields }));
      return bad.error ? fieldErrors(bad.error) : {};
    };
    expect(errors({ ph_low: "9" })).toEqual({
      ph_high: "The upper end of the range must be above the lower end.",
    });
    expect(errors({ conductivity_low: "500" })).toEqual({ conductivity_high: "Give both ends, or neither." });
    expect(errors({ conductivity_low: "500", conductivity_high: "400" })).toHaveProperty("conductivity_high");
    expect(errors({ altitude_m: "high" })).toEqual({
      altitude_m: "“high” is not a number. Type it like 7.02.",
    });
    expect(errors({ altitude_m: "1,320" })).toEqual({
      altitude_m: "1,320 can be read two ways. Is it 1320 or 1.320?",
    });
    expect(Object.keys(errors({ name: "", water: "", ph_low: "", ph_high: "99" }))).toEqual([
      "name",
      "water",
      "ph_low",
      "ph_high",
    ]);
  });
});

describe("instruments", () => {
  it("are read from a form with all they measure", () => {
    const fields = form({
      code: "M-2",
      name: "Pond",
      place: "field",
      display: "value",
      compensation: "20-linear",
      coefficient: "2,1",
      installed_on: "2026-01-01",
    });
    fields.append("measurand", "conductivity");
    fields.append("measurand", "oxygen");
    const meter = meterFromForm(fields);
    expect(
      meter.data?.channels.map((c) => [c.measurand, c.display, c.compensation, c.coefficient_percent_per_c]),
    ).toEqual([
      ["conductivity", "value", "20-linear", 2.1],
      ["oxygen", "value", "20-linear", 2.1],
    ]);
  });
  it("are refused in words", () => {
    const bad = meterFromForm(form({ code: "", name: "", place: "y", display: "value", installed_on: "" }));
    const errors = bad.error ? fieldErrors(bad.error) : {};
    expect(errors.code).toContain("short code");
    expect(errors.channels).toContain("what it measures");
    expect(errors.installed_on).toContain("date");
  });
  it("that show only finished values have no signal to send", () => {
    const fields = form({
      code: "K",
      name: "x",
      place: "field",
      display: "value",
      installed_on: "2026-01-01",
      has_cable: "on",
      measurand: "ph",
    });
    const bad = meterFromForm(fields);
    expect(bad.error && fieldErrors(bad.error).has_cable).toContain("none to send");
  });
  it("have codes of their own, and a simulated instrument only with a cable", async () => {
    const { db, person } = use.bench;
    expect(await addMeter(db, testMeter("P-2", ["ph"]), person, testNow)).toBeNull();
    const pocket = await addMeter(db, testMeter("K-1", ["ph"], { has_cable: false }), person, testNow);
    expect(await findDevice(db, pocket?.id ?? "")).toBeUndefined();
    expect(await findMeter(db, pocket?.id ?? "")).toEqual(pocket);
    expect((await metersInUse(db)).map((m) => m.code)).toEqual(["K-1", "M-1", "P-2"]);
  });
  it("keep what was done to them; a new membrane starts a new life and ends the calibration", async () => {
    await calibratedPond(use.bench);
    const { db, pond, person } = use.bench;
    const later = "2026-04-12T10:00:00.000Z";
    const service = { measurand: "oxygen", on_date: "2026-04-12", code: "", note: "torn" };
    await recordService(db, pond, { ...service, kind: "cleaned", measurand: "ph" }, person, later);
    expect((await findMeter(db, pond.id))?.channels.map((c) => c.sensor_since)).toEqual([
      "2025-05-01",
      "2025-05-01",
      "2025-05-01",
    ]);
    const latest = "2026-04-12T10:05:00.000Z";
    await recordService(db, pond, { ...service, kind: "membrane-changed" }, person, latest);
    const oxygen = (await findMeter(db, pond.id))?.channels.find((c) => c.measurand === "oxygen");
    expect(oxygen?.sensor_since).toBe("2026-04-12");
    expect((await serviceLog(db, pond.id, 9)).map((e) => [e.kind, e.measurand, e.by])).toEqual(
      [
        ["cleaned", "ph", "Noor"],
        ["membrane-changed", "oxygen", "Noor"],
      ].reverse(),
    );
    const ended = await db("calibrations")
      .where({ meter_id: pond.id, valid_until: latest })
      .select("measurand");
    expect(ended).toEqual([{ measurand: "oxygen" }]);
  });
});

describe("a simulated instrument", () => {
  it("keeps its own clock, and sends four samples a second of it", async () => {
    await setSpeed(use.bench.db, use.bench.meter.id, 20, testNow);
    const device = await findDevice(use.bench.db, use.bench.meter.id);
    if (!device) throw new Error("no device");
    const later = Date.parse(testNow) + 3000;
    expect(deviceTime(device, later) - deviceTime(device, Date.parse(testNow))).toBeCloseTo(60, 6);
    expect(samplesBetween(device, 0, 10)).toHaveLength(40);
    expect(samplesBetween(device, 10, 10.1)).toHaveLength(0);
    expect(samplesBetween(device, 0, 1)[0]?.status).toBe("not-in-solution");
  });
  it("remembers its medium and its faults", async () => {
    const water = mediumOf({ label: "Bathing pond", kind: "sample", ph: 8, temperature_c: 15 });
    const aged = usualFault("aged-glass");
    await moveProbe(use.bench.db, use.bench.meter.id, water, "2026-04-12T08:01:00.000Z", "hand");
    await setFaults(use.bench.db, use.bench.meter.id, [aged], "2026-04-12T08:02:00.000Z");
    const device = await findDevice(use.bench.db, use.bench.meter.id);
    expect(device?.state.medium).toEqual(water);
    expect(device?.state.faults).toEqual([aged]);
    expect(device?.device_s).toBeCloseTo(120, 6);
  });
  it("obeys the hand outside while that holds the probe", async () => {
    const { db, meter } = use.bench;
    await setFollows(db, meter.id, false, testNow);
    await moveProbe(db, meter.id, mediumOf({ label: "bench", kind: "sample" }), testNow, "bench");
    expect((await findDevice(db, meter.id))?.state.medium.label).toBe("air");
    const places = await placesFor(db, meter, testNow.slice(0, 10));
    expect(places.map((p) => p.label)).toContain("Technical 7.00, L-technical-7");
    for (const { value, label } of places) {
      expect(await putProbe(db, meter.id, value, testNow), label).toBe(true);
    }
    expect(await putProbe(db, meter.id, "lot:nowhere", testNow)).toBe(false);
  });
  it("ignores a meter without one", async () => {
    await expect(setSpeed(use.bench.db, "none", 5, testNow)).resolves.toBeUndefined();
  });
});

describe("lots", () => {
  const [id, _by] = ["", ""];
  it("are changed by new versions, each with its reason", async () => {
    const lot = use.bench.lots[0];
    if (!lot) throw new Error("no lot");
    const withdrawn = { on: "2026-04-12", since: "2026-04-01", reason: "Cloudy." };
    const changed = await changeLot(
      use.bench.db,
      lot.id,
      (l) => ({ ...l, withdrawn }),
      use.bench.person,
      testNow,
      "Cloudy.",
    );
    expect(changed?.version).toBe(2);
    expect((await findLot(use.bench.db, lot.id))?.lot.withdrawn).toEqual(withdrawn);
    expect((await lotHistory(use.bench.db, lot.id)).map((v) => [v.version, v.reason, v.by])).toEqual([
      [2, "Cloudy.", "Noor"],
      [1, "registered", "Noor"],
    ]);
    expect(await changeLot(use.bench.db, id, (l) => l, use.bench.person, testNow, "x")).toBeUndefined();
  });
  it("cannot be changed into nonsense", async () => {
    const lot = use.bench.lots[0];
    if (!lot) throw new Error("no lot");
    await expect(
      changeLot(use.bench.db, lot.id, (l) => ({ ...l, uncertainty: -1 }), use.bench.person, testNow, "x"),
    ).rejects.toThrow();
    expect((await findLot(use.bench.db, lot.id))?.version).toBe(1);
  });
  it("have codes of their own", async () => {
    const lot = use.bench.lots[0];
    expect(lot && (await addLot(use.bench.db, lot.lot, use.bench.person, testNow))).toBeNull();
    expect(await use.bench.db("lots")).toHaveLength(5);
  });
  it("are kept by a calibration as they are that day, with the reason only where one is needed", () => {
    const lot = use.bench.lots[0];
    if (!lot) throw new Error("no lot");
    expect(standardSnapshot(lot, "2026-04-12", "because")).toMatchObject({
      condition: "good",
      reason_for_use: null,
      nominal: 7,
    });
    expect(standardSnapshot(lot, "2026-12-01", "because")).toMatchObject({
      condition: "open-too-long",
      reason_for_use: "because",
    });
    expect(
      nominalValue({
        ...lot.lot,
        table: [
          { temperature_c: 0, value: 7.1 },
          { temperature_c: 20, value: 7 },
        ],
      }),
    ).toBe(7.1);
  });
  it("are read from a form, with the certificate's own table where it was typed", () => {
    const fields = {
      kind: "ph-buffer",
      material: "technical-7",
      code: "X",
      uncertainty: "0,02",
      received_on: "2026-01-01",
      opened_on: "",
      expires_on: "2027-01-01",
      shelf_life_open_days: "60",
      value_25: "7.004",
    };
    const lot = lotFromForm(form(fields));
    expect(lot.data).toMatchObject({
      uncertainty: 0.02,
      opened_on: null,
      name: phBuffers["technical-7"].name,
    });
    const value = (at: number) =>
      lot.data && isStandard(lot.data) && lot.data.table.find((row) => row.temperature_c === at)?.value;
    expect([value(25), value(20)]).toEqual([7.004, 7.02]);
    const bad = lotFromForm(form({ ...fields, material: "lemonade", shelf_life_open_days: "" }));
    expect(bad.error && Object.keys(fieldErrors(bad.error))).toEqual(
      expect.arrayContaining(["name", "table", "shelf_life_open_days"]),
    );
  });
});

describe("standards of every kind", () => {
  const dates = {
    received_on: "2026-01-01",
    opened_on: "2026-04-01",
    expires_on: "2027-01-01",
    shelf_life_open_days: "60",
  };
  it.each([
    [{ kind: "conductivity-standard", value: "1413", percent_per_c: "1,91", uncertainty: "7" }, 1413],
    [{ kind: "zero-oxygen", uncertainty: "0.1" }, 0],
    [{ kind: "redox-standard", material: "quinhydrone-4", reference: "agcl-sat", uncertainty: "5" }, 264],
    [{ kind: "absorbance-standard", value: "0.5", uncertainty: "0.003" }, 0.5],
    [{ kind: "concentration-standard", value: "2", uncertainty: "0.02" }, 2],
  ])("%o are read from a form", (fields, nominal) => {
    const lot = lotFromForm(form({ ...dates, code: "X", ...fields }));
    expect(lot.error && fieldErrors(lot.error)).toBeUndefined();
    const value = lot.data && isStandard(lot.data) ? nominalValue(lot.data) : Number.NaN;
    expect(Math.round(value * 10) / 10).toBeCloseTo(nominal, 0);
  });
  it("count their portions down with every calibration", async () => {
    const { db, person, pond } = use.bench;
    expect(pond.channels).toHaveLength(3);
    const bottle = testLot("conductivity-standard", "", 1413, { size: 100, portion: 30 });
    await addLot(db, bottle, person, testNow);
    await calibratedPond(use.bench);
    expect(await db("lot_uses").where({ lot_id: use.bench.standard.id })).toHaveLength(1);
    const left = (await standardShelf(db, "2026-04-12")).find((l) => l.lot.size === 100);
    expect(left?.portions_left).toBe(3);
  });
});

describe("house rules", () => {
  it("are found by the version a record kept", async () => {
    const { version } = await rulesInForce(use.bench.db);
    expect((await rulesOfVersion(use.bench.db, version)).rules.ph.duplicate_ph).toBe(0.1);
    await expect(rulesOfVersion(use.bench.db, 99)).rejects.toThrow("version 99");
  });
  it("are changed by new versions; a record keeps the one it was judged by", async () => {
    const { db, person } = use.bench;
    const work = await calibratedPh(use.bench);
    const { rules } = await rulesInForce(db);
    const stricter = { ...rules, ph: { ...rules.ph, duplicate_ph: 0.05 } };
    expect((await changeRules(db, 1, stricter, "closer", person, testNow))?.version).toBe(2);
    expect(await changeRules(db, 1, rules, "late", person, testNow)).toBeNull();
    expect((await changeRules(db, 2, stricter, "same", person, testNow))?.version).toBe(2);
    expect((await rulesHistory(db)).map((v) => [v.version, v.reason])).toEqual([
      [2, "closer"],
      [1, "defaults"],
    ]);
    expect((await db("calibrations").where({ work_id: work }).first()).rules_version).toBe(1);
  });
});

describe("the jump box", () => {
  it("knows every meter, site, lot and calculator", async () => {
    const labels = (await jumpPlaces(use.bench.db, testNow)).map((p) => p.label);
    expect(labels).toEqual(
      expect.arrayContaining([
        "Calibrate P-2",
        "Check M-1",
        "Bathing pond",
        "Lot L-borate",
        "pH of a sample from its signal",
      ]),
    );
  });
});
