import { describe, expect, it } from "vitest";
import { ofBottle, ofNoBottle } from "./ofBottle";

const sampling = {
  sample_id: "s",
  code: "BP-1",
  visit_id: null,
  type_name: "General",
  filled_at: "2026-04-12T09:00:00.000Z",
  keeps_until: "2026-04-13T09:00:00.000Z",
  findings: [],
};
const typed = { collected_at: "2026-04-12T08:00:00.000Z" };

describe("a result of a bottle", () => {
  it("is of water that was taken when the bottle was filled, whatever was typed", () => {
    expect(ofBottle(typed, sampling)).toEqual({ collected_at: sampling.filled_at, sampling });
    expect(ofBottle({ collected_at: null }, sampling).collected_at).toBe(sampling.filled_at);
  });

  it("stays as it is where no bottle is known, or where the probe was in the water itself", () => {
    expect(ofBottle(typed, undefined)).toBe(typed);
    const inPlace = { collected_at: null, in_place: true as const };
    expect(ofBottle(inPlace, sampling)).toBe(inPlace);
  });

  it("that turns out to be of none is of water of which nobody knows when it was taken", () => {
    expect(ofNoBottle(ofBottle(typed, sampling))).toEqual({ collected_at: null });
    expect(ofNoBottle(typed)).toBe(typed);
  });
});
