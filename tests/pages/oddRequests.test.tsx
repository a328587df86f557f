import { describe, expect, it } from "vitest";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import { calibratedPh, phReading } from "../../app/server/testing/testBench";
import { Visitor } from "./pages";

const hands = benchForEachTest();
const visitor = () => new Visitor(hands.bench);

describe("what nobody should send", () => {
  it("is not found under the id of another kind of thing, and breaks nothing", async () => {
    const calibration = await calibratedPh(hands.bench);
    const reading = await phReading(hands.bench, -62);
    for (const path of [
      `/calibrations/${reading}`,
      `/calibrations/${reading}/certificate`,
      `/checks/${calibration}/certificate`,
      `/readings/${calibration}`,
      `/runs/${calibration}`,
      `/runs/${reading}`,
      `/meters/${reading}`,
      `/stock/${reading}`,
      `/sites/${reading}`,
      `/services/${reading}`,
      `/unreadable/nothing`,
    ]) {
      expect((await visitor().open(path)).status, path).toBeLessThan(500);
    }
    const pdf = await visitor().ask(`/calibrations/${reading}/certificate.pdf`);
    expect(pdf.status).toBe(404);
  });

  it.each([
    ["a day that nobody lives to see", { expires_on: "9999-12-31" }],
    ["a day that is none", { expires_on: "2026-02-31" }],
    ["a value beyond all measure", { value: "1e308" }],
    ["a value below none", { value: "-1e308" }],
    ["a life of more days than there are", { shelf_life_open_days: "1e300" }],
  ])("is refused or kept as a lot, never broken: %s", async (_what, change) => {
    const answer = await visitor().send("/stock/new", {
      kind: "conductivity-standard",
      name: "Standard",
      code: "K-1",
      value: "718",
      percent_per_c: "1.9",
      received_on: "2026-01-01",
      expires_on: "2026-12-31",
      opened_on: "",
      shelf_life_open_days: "90",
      uncertainty: "",
      bottle_ml: "",
      portion_ml: "",
      ...change,
    });
    expect([302, 422]).toContain(answer.status);
    expect((await visitor().open("/stock")).status).toBe(200);
    expect((await visitor().open("/")).status).toBe(200);
  });

  it("is taken for nothing in an address: days, places and orders that are none", async () => {
    for (const path of [
      "/ledger?from=0000-00-00&to=99999-01-01",
      "/ledger?after=[1e999]&before={}",
      "/ledger?sort=constructor&order=up&chart=2",
      "/ledger?parameter=__proto__&chart=1",
      "/solutions/ph-from-mv?with=%7B",
      '/solutions/ph-from-mv?with=["a"]',
      "/sign-in?next=/%0A/x",
    ]) {
      expect((await visitor().open(path)).status, path).toBe(200);
    }
  });

  it("looks back to no day that is none", async () => {
    const manager = new Visitor(hands.bench, { ...hands.bench.person, role: "manager" });
    const answer = await manager.send("/rules", {
      version: "1",
      "calibration.control_every": "12",
      from: "yesterday",
      do: "look",
    });
    expect(answer.status).toBe(422);
    expect(answer.text).toContain("Give the day to look back to as year-month-day.");
  });
});
