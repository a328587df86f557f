import { describe, expect, it } from "vitest";
import { defaultHouseRules } from "../rules/houseRules";
import { rulesWith } from "../testing/sessions";
import { type DueMeter, dueForMeters } from "./due";
import { type DayFacts, nextThing } from "./nextThing";

const now = "2026-04-12T10:00:00.000Z";
type Line = DueMeter["measurands"][number];
const line = (change: Partial<Line> = {}): Line => ({
  measurand: "ph",
  calibration: {
    finished_at: "2026-04-12T08:00:00.000Z",
    valid_until: "2026-04-12T23:59:59.999Z",
    verdict: "sound",
  },
  passed_at: null,
  failed_at: null,
  readings_since_check: 0,
  last_reading_at: null,
  sensor_since: "",
  ...change,
});
const due = (lines: Line[], rules = defaultHouseRules, at = now) =>
  dueForMeters([{ id: "m", code: "M-1", measurands: lines, busy: false }], at, rules).map((d) => [
    d.title,
    d.detail,
    d.at <= at ? "now" : d.at.slice(11, 16),
  ]);

describe("what is due for a meter", () => {
  it("is nothing while its calibration is in force and unused", () => {
    expect(due([line()])).toEqual([]);
  });
  it.each<[string, Partial<Line>, string]>([
    ["never calibrated", { calibration: null }, "pH: never calibrated"],
    [
      "failed",
      { calibration: { finished_at: now, valid_until: "2027", verdict: "failed" } },
      "pH: the last one failed",
    ],
    [
      "run out",
      {
        calibration: {
          finished_at: "2026-04-11T08:00:00.000Z",
          valid_until: "2026-04-11T23:59:59.999Z",
          verdict: "sound",
        },
      },
      "pH: before its first reading",
    ],
    ["failed a check", { failed_at: "2026-04-12T09:00:00.000Z" }, "pH: the check failed"],
    ["given a new sensor", { sensor_since: "2026-04-12T08:30:00.000Z" }, "pH: the sensor was changed"],
  ])("is a calibration when it was %s", (_why, change, detail) => {
    expect(due([line(change)])).toEqual([["Calibrate M-1", detail, "now"]]);
  });
  it("waits until a new membrane has rested, unless something else of the meter is due", () => {
    const renewed = line({ measurand: "oxygen", sensor_since: "2026-04-12T09:40:00.000Z" });
    const resting = "oxygen: the sensor was changed and rests until 10:10";
    expect(due([renewed])).toEqual([["Calibrate M-1", resting, "10:10"]]);
    expect(due([renewed, line({ calibration: null })])).toEqual([
      ["Calibrate M-1", `oxygen, pH: the sensor was changed and rests until 10:10; never calibrated`, "now"],
    ]);
    expect(due([renewed], defaultHouseRules, "2026-04-12T10:10:00.000Z")).toEqual([
      ["Calibrate M-1", "oxygen: the sensor was changed", "now"],
    ]);
  });
  it("gathers what one meter needs, and keeps what is only looked at now and then apart", () => {
    const lines = [
      line({ calibration: null }),
      line({ measurand: "oxygen", calibration: null }),
      line({ measurand: "temperature", calibration: null }),
    ];
    expect(due(lines)).toEqual([
      ["Calibrate M-1", "pH, oxygen: never calibrated", "now"],
      ["Check M-1", "temperature: never calibrated", "now"],
    ]);
  });
  it("is a control after as many readings as the house rule says", () => {
    const used = { readings_since_check: 10, last_reading_at: "2026-04-12T09:30:00.000Z" };
    expect(due([line(used)])).toEqual([["Control of M-1", "10 readings since the last one", "now"]]);
    expect(due([line(used)], rulesWith("calibration", { control_every: 20 }))).toEqual([
      ["Closing check of M-1", "at the end of the day", "17:00"],
    ]);
  });
  it("is a closing check at the end of a day of use, if the house wants one", () => {
    const used = { readings_since_check: 2, last_reading_at: "2026-04-12T09:30:00.000Z" };
    expect(due([line(used)], defaultHouseRules, "2026-04-12T18:00:00.000Z")).toEqual([
      ["Closing check of M-1", "at the end of the day", "now"],
    ]);
    expect(due([line(used)], rulesWith("calibration", { closing_check: false }))).toEqual([]);
  });
  it("is a check before the day's first reading, where calibrations last a week", () => {
    const weekly = rulesWith("calibration", { interval: "week-with-daily-check" });
    const calibration = {
      finished_at: "2026-04-10T08:00:00.000Z",
      valid_until: "2026-04-16T23:59:59.999Z",
      verdict: "sound" as const,
    };
    expect(due([line({ calibration })], weekly)).toEqual([
      ["Check M-1", "before the day's first reading", "now"],
    ]);
    expect(due([line({ calibration, passed_at: "2026-04-12T08:00:00.000Z" })], weekly)).toEqual([]);
  });
  it("is nothing for a meter that is in hand", () => {
    expect(
      dueForMeters(
        [{ id: "m", code: "M-1", measurands: [line({ calibration: null })], busy: true }],
        now,
        defaultHouseRules,
      ),
    ).toEqual([]);
  });
});

describe("the one thing to do next", () => {
  const item = {
    kind: "calibrate",
    moment: null,
    meter_id: "m",
    title: "Calibrate M-1",
    detail: "pH: never calibrated",
    href: "/c",
    when: "now",
  };
  const closing = {
    ...item,
    kind: "check",
    moment: "closing",
    title: "Closing check of M-1",
    detail: "at the end of the day",
    href: "/k",
  };
  const facts = (change: Partial<DayFacts>): DayFacts => ({
    open: null,
    due: [],
    meters: [{ id: "m", code: "M-1" }],
    sites: [{ id: "s", name: "Pond", today: false }],
    ...change,
  });
  it.each<[string, Partial<DayFacts>, string]>([
    [
      "what is open",
      { open: { title: "Calibrating M-1", started_at: now, href: "/o" }, due: [item] },
      "Go on",
    ],
    [
      "readings in doubt",
      { due: [item, { ...item, kind: "rejudge", title: "Look at 3 readings" }] },
      "Look at them",
    ],
    ["the first meter", { meters: [] }, "Register a meter"],
    ["the first site", { sites: [] }, "Add a site"],
    ["the meter's calibration", { due: [item] }, "Calibrate M-1"],
    ["the next site, even late in the day", { due: [closing] }, "Take the reading"],
    [
      "the closing check, once every site is read",
      { due: [closing], sites: [{ id: "s", name: "Pond", today: true }] },
      "Closing check of M-1",
    ],
    ["the ledger, when all is done", { sites: [{ id: "s", name: "Pond", today: true }] }, "Open the ledger"],
  ])("is %s", (_what, change, action) => {
    expect(nextThing(facts(change)).action).toBe(action);
  });
  it("says pH as pH", () => {
    expect(nextThing(facts({ due: [item] })).words).toBe("pH: never calibrated.");
  });
});
