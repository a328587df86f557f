import { describe, expect, it } from "vitest";
import { certifiedValue } from "../../core/reference/certificate";
import { nernstSlope } from "../../core/reference/constants";
import { type BufferId, phBuffers } from "../../core/reference/phBuffers";

describe("Nernst slope", () => {
  // Source: ln10·R·T/F with CODATA 2018 constants; the values at 0, 20 and 25 °C are the ones commonly tabulated.
  it.each([
    [0, 54.2],
    [10, 56.18],
    [20, 58.17],
    [25, 59.16],
    [40, 62.14],
  ])("at %d °C is %d mV per pH", (temperature, slope) => {
    expect(nernstSlope(temperature)).toBeCloseTo(slope, 2);
  });
});

describe("pH of buffers at their temperature", () => {
  // Source of the primary buffers: NIST SP 260-53 / DIN 19266, from memory, ±0.005. Technical buffers: common practice.
  it.each<[BufferId, number, number]>([
    ["phthalate", 10, 3.998],
    ["phthalate", 25, 4.005],
    ["phthalate", 40, 4.03],
    ["phosphate", 0, 6.984],
    ["phosphate", 20, 6.881],
    ["phosphate", 40, 6.838],
    ["borate", 0, 9.464],
    ["borate", 25, 9.18],
    ["borate", 40, 9.068],
    ["carbonate", 0, 10.317],
    ["carbonate", 25, 10.012],
    ["carbonate", 40, 9.889],
    ["tetroxalate", 0, 1.666],
    ["tetroxalate", 25, 1.679],
    ["tetroxalate", 40, 1.694],
    ["technical-4", 5, 4.0],
    ["technical-4", 25, 4.01],
    ["technical-4", 40, 4.03],
    ["technical-7", 0, 7.12],
    ["technical-7", 20, 7.02],
    ["technical-7", 40, 6.97],
    ["technical-10", 0, 10.32],
    ["technical-10", 20, 10.06],
    ["technical-10", 40, 9.89],
  ])("%s at %d °C is %d", (id, temperature, ph) => {
    const found = certifiedValue(phBuffers[id].table, temperature);
    expect(found.ok && Math.abs(found.value - ph)).toBeLessThanOrEqual(0.005);
  });

  it("falls between its neighbours everywhere, without a jump", () => {
    for (const { table } of Object.values(phBuffers)) {
      for (let t = 0.1; t < 40; t += 0.1) {
        const here = certifiedValue(table, t);
        const before = certifiedValue(table, t - 0.1);
        if (!here.ok || !before.ok) throw new Error("outside");
        expect(Math.abs(here.value - before.value)).toBeLessThan(0.002);
      }
    }
  });
});
