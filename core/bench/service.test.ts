import { describe, expect, it } from "vitest";
import { doneAt, lastBefore, restsUntil, serviceSchema, stillToCome } from "./service";

const berlin = "Europe/Berlin";
const now = "2026-04-12T12:30:00.000Z";

describe("when something was done to a meter", () => {
  it.each([
    ["at its time of day, in the house's zone", "2026-04-12", "14:05", "2026-04-12T12:05:00.000Z"],
    ["now, on the day it is written down", "2026-04-12", "", now],
    ["from the beginning of an earlier day on", "2026-04-11", "", "2026-04-10T22:00:00.000Z"],
    [
      "at the time of an earlier day, before the clocks changed",
      "2026-03-28",
      "09:40",
      "2026-03-28T08:40:00.000Z",
    ],
  ])("is %s", (_when, on_date, clock, at) => {
    expect(doneAt({ on_date, clock }, now, berlin)).toBe(at);
  });

  it.each(["24:00", "9:40", "09:60", "noon"])("is not “%s”", (clock) => {
    const service = { kind: "cleaned", measurand: "ph", on_date: "2026-04-12", clock };
    expect(serviceSchema.safeParse(service).error?.issues).toMatchObject([
      { path: ["clock"], message: "Give the time as hours and minutes, like 09:40." },
    ]);
  });
});

describe("what is written down", () => {
  it.each([
    ["2026-04-13", "", "on_date"],
    ["2026-04-12", "14:31", "clock"],
    ["2026-04-12", "14:30", undefined],
    ["2026-04-11", "23:00", undefined],
  ])("on %s at “%s” is still to come by %s", (on_date, clock, field) => {
    expect(stillToCome({ on_date, clock }, now, berlin)?.field).toBe(field);
  });
});

// Half an hour: common practice.
describe("a sensor that was filled at 09:40", () => {
  const filled = "2026-04-12T09:40:00.000Z";
  it.each([
    ["2026-04-12T09:40:00.000Z", "2026-04-12T10:10:00.000Z"],
    ["2026-04-12T10:09:59.999Z", "2026-04-12T10:10:00.000Z"],
    ["2026-04-12T10:10:00.000Z", null],
  ])("looked at at %s, rests until %s", (now, until) => {
    expect(restsUntil(filled, now)).toBe(until);
  });
  it("rests no longer where nobody filled it", () => {
    expect(restsUntil(null, filled)).toBeNull();
    expect(restsUntil("", filled)).toBeNull();
  });
});

describe("the last that was so before a moment", () => {
  const sensors = [
    { since: "" },
    { since: "2026-04-12T09:00:00.000Z" },
    { since: "2026-04-12T10:00:00.000Z" },
  ];
  it.each([
    ["2026-04-12T08:59:59.999Z", 0],
    ["2026-04-12T09:00:00.000Z", 0],
    ["2026-04-12T10:00:00.000Z", 1],
    ["2026-04-12T10:00:00.001Z", 2],
  ])("%s is of the one in place %i", (moment, i) => {
    expect(lastBefore(sensors, moment)).toBe(sensors[i]);
  });
  it("is none before the first", () => {
    expect(lastBefore(sensors.slice(1), "2026-04-12T08:00:00.000Z")).toBeUndefined();
  });
});
