import { describe, expect, it } from "vitest";
import { casingVolume, minutesLeft, pumpedVolume, purgeTables } from "./purge";

describe("the water of a well", () => {
  // Source: common practice: 10 m of water in a casing of 150 mm are 177 L; three times 530 L; at 0.5 L/s about 18 min.
  const three = 3 * casingVolume(150, 10);
  it("is a cylinder", () => {
    expect(casingVolume(150, 10)).toBeCloseTo(176.7, 1);
    expect(three).toBeCloseTo(530.1, 1);
    expect(minutesLeft([{ at: 0, l_per_s: 0.5 }], three, 0)).toBeCloseTo(17.67, 2);
  });

  it("takes longer from the moment on at which the flow falls", () => {
    const half_way = (three / 2 / 0.5) * 1000;
    const flows = [
      { at: 0, l_per_s: 0.5 },
      { at: half_way, l_per_s: 0.25 },
    ];
    expect(pumpedVolume(flows, half_way)).toBeCloseTo(three / 2, 6);
    // What is left takes as long as all of it would have taken.
    expect(minutesLeft(flows, three, half_way)).toBeCloseTo(17.67, 2);
    expect(minutesLeft(flows, three, half_way + 60_000)).toBeCloseTo(16.67, 2);
  });

  it("stands still while the pump does, and is done when it is done", () => {
    const stopped = [
      { at: 0, l_per_s: 0.5 },
      { at: 60_000, l_per_s: 0 },
    ];
    expect(pumpedVolume(stopped, 600_000)).toBeCloseTo(30, 9);
    expect(minutesLeft(stopped, three, 600_000)).toBeNull();
    expect(minutesLeft([], three, 0)).toBeNull();
    expect(minutesLeft(stopped, 30, 600_000)).toBe(0);
  });

  it("stands in the table for the truck", () => {
    const { volume, minutes } = purgeTables();
    const at = volume.rows.find((r) => r.column_m === 10)?.litres[volume.diameters_mm.indexOf(150)];
    expect(at).toBeCloseTo(176.7, 1);
    const time = minutes.rows.find((r) => r.litres === 500)?.minutes[minutes.flows_l_s.indexOf(0.5)];
    expect(time).toBeCloseTo(16.7, 1);
  });
});
