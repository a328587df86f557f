import { describe, expect, it } from "vitest";
import { areaAt } from "./areas";

describe("a page", () => {
  it.each([
    ["/", "Day"],
    ["/meters/new", "Meters"],
    ["/calibrations/01M8", "Meters"],
    ["/services/01M8", "Meters"],
    ["/custody", "Samples"],
    ["/methods/nitrate/edit", "Runs"],
    ["/records/01M8", "Ledger"],
    ["/sites", "Sites"],
  ])("at %s belongs to %s", (path, name) => {
    expect(areaAt(path)?.name).toBe(name);
  });
  it.each(["/due", "/rules", "/meterspace"])("at %s belongs to no area", (path) => {
    expect(areaAt(path)).toBeUndefined();
  });
});
