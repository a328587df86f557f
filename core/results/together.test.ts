import { describe, expect, it } from "vitest";
import type { TogetherEvidence } from "./qualityEvidence";
import { judgeTogether } from "./together";

/** Nine pairs on y = x / 4 of which the residuals have a median deviation that makes sigma 1. */
const spread = [0, 1, -1, 1, -1, 1, -1, 0.2, -0.2].map((r) => r / 1.4826);
const pairs = spread.map((r, i): [number, number] => [200 + 50 * i, (200 + 50 * i) / 4 + r]);
const beside = (value: number, own = pairs): TogetherEvidence => ({
  with: { reading_id: "r", parameter: "conductivity", analyte: "Conductivity", value, unit: "µS/cm" },
  pairs: own,
});
const judged = (
  value: number | null,
  together: TogetherEvidence | undefined = beside(400),
  parameter = "hardness",
) => judgeTogether({ together, value, parameter, unit: "mg/L", decimals: 1 })[0];

describe("what goes together in one water", () => {
  it("is within three robust sigma of the site's line", () => {
    expect(judged(100)).toMatchObject({ rule: "together", severity: "ok" });
    expect(judged(100)?.sentence).toBe("It goes with the 400.0 µS/cm conductivity of this water.");
    // Sigma 1 by its making: worked by hand, to what Theil and Sen's slope moves it.
    expect(judged(102.8)?.severity).toBe("ok");
    expect(judged(103.4)).toMatchObject({
      severity: "qualify",
      sentence: expect.stringContaining(
        "It does not go with the 400.0 µS/cm conductivity: by 9 pairs of this site",
      ),
    });
    expect(judged(96.6)?.severity).toBe("qualify");
  });
  it("is not said of fewer than eight pairs, of pairs on one spot, or of nothing", () => {
    expect(judged(300, beside(400, pairs.slice(0, 7)))).toBeUndefined();
    expect(judged(300, beside(400, pairs.slice(0, 8)))?.severity).toBe("qualify");
    expect(
      judged(
        300,
        beside(
          400,
          pairs.map((p) => [400, p[1]]),
        ),
      ),
    ).toBeUndefined();
    expect(
      judgeTogether({ together: undefined, value: 3, parameter: "hardness", unit: "", decimals: 1 }),
    ).toEqual([]);
    expect(judged(null)).toBeUndefined();
  });
  it("hardly minds a pair that is wrong itself", () => {
    const wrong = pairs.map((p, i): [number, number] => (i === 4 ? [p[0], 900] : p));
    expect(judged(100, beside(400, wrong))?.severity).toBe("ok");
    expect(judged(110, beside(400, wrong))?.severity).toBe("qualify");
  });
  it("asks no more of pH than of its duplicates", () => {
    const flat = pairs.map(([x]): [number, number] => [x, 7]);
    expect(judged(7.1, beside(400, flat), "ph")?.severity).toBe("ok");
    expect(judged(7.2, beside(400, flat), "ph")?.severity).toBe("qualify");
  });
});
