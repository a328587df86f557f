import { describe, expect, it } from "vitest";
import { readPosition, showPosition } from "./position";

describe("coordinates", () => {
  it.each([
    ["52.10412, -1.30278", 52.10412, -1.30278],
    [" 52.1;−1.3 ", 52.1, -1.3],
    ["-33 151.2", -33, 151.2],
    ["90,180", 90, 180],
  ])("%s are understood", (text, latitude, longitude) => {
    expect(readPosition(text)).toEqual({ latitude, longitude, within_m: null });
  });

  it.each(["", "52.1", "91, 0", "0, 181", "north, west", "52,1 1,3", "1 2 3"])("%s are none", (text) => {
    expect(readPosition(text)).toBeNull();
  });

  it("come back as they were written", () => {
    const shown = showPosition({ latitude: 52.1, longitude: -1.3 });
    expect(shown).toBe("52.10000, -1.30000");
    expect(readPosition(shown)).toMatchObject({ latitude: 52.1, longitude: -1.3 });
  });
});
