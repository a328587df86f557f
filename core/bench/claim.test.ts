import { describe, expect, it } from "vitest";
import { believe } from "./claim";

const day = (time: string) => `2026-04-12T${time}.000Z`;
const at = (claimed: string, change: Partial<Parameters<typeof believe>[1]> = {}) =>
  believe(claimed, { offset_ms: 0, received_at: day("10:00:00"), not_before: day("09:00:00"), ...change });
const hour = 3_600_000;

describe("the moment a device claims", () => {
  it("is kept as it is when it can be", () => {
    expect(at(day("09:30:00"))).toEqual({ at: day("09:30:00") });
    expect(at(day("09:00:00"))).toEqual({ at: day("09:00:00") });
  });

  it("may be two minutes ahead: clocks are", () => {
    expect(at(day("10:02:00"))).toEqual({ at: day("10:02:00") });
  });

  it("a year ahead is not believed: what is kept is when it was received, with the claim beside it", () => {
    expect(at("2027-04-12T09:30:00.000Z")).toEqual({
      at: day("10:00:00"),
      claimed_at: "2027-04-12T09:30:00.000Z",
      doubted: true,
    });
  });

  it("before the work began is not believed", () => {
    expect(at(day("08:00:00"))).toEqual({ at: day("09:00:00"), claimed_at: day("08:00:00"), doubted: true });
    expect(at(day("08:59:30"))).toEqual({ at: day("09:00:00"), claimed_at: day("08:59:30") });
  });

  it("by a clock that is two hours off is corrected, once", () => {
    expect(at(day("11:30:00"), { offset_ms: -2 * hour })).toEqual({
      at: day("09:30:00"),
      claimed_at: day("11:30:00"),
    });
    expect(at(day("07:30:00"), { offset_ms: 2 * hour })).toEqual({
      at: day("09:30:00"),
      claimed_at: day("07:30:00"),
    });
  });

  it("by a clock that is a minute off is left alone", () => {
    expect(at(day("09:30:00"), { offset_ms: 60_000 })).toEqual({ at: day("09:30:00") });
  });
});
