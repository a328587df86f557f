import { describe, expect, it } from "vitest";
import { type Happening, libraryMethod, RunPlayer } from "../simulation/runPlayer";
import { slowFrom } from "./slowDown";

/** Duplicates by burette; the first took so much, of which so much was added back. */
function afterFirst(id: string, events: object[]) {
  const bench = new RunPlayer(libraryMethod(id));
  const step = bench.until("read").id;
  const happen = (event: object) => bench.happen({ replicate: 0, ...event } as Happening, 1);
  for (const event of events) happen(event);
  happen({ type: "read", step, raw: { kind: "titrated" } });
  return bench.state;
}

describe("from where on a titration goes slowly", () => {
  it("is a tenth before what the first replicate took", () => {
    const state = afterFirst("oxygen-burette", [
      { type: "scale-start", value: 1 },
      { type: "scale-end", value: 9 },
    ]);
    expect(slowFrom(state, 1)).toBeCloseTo(7.2, 9);
  });

  it("does not count what was added back after the end point was passed", () => {
    const burette = afterFirst("oxygen-burette", [
      { type: "scale-start", value: 0 },
      { type: "scale-end", value: 9 },
      { type: "overshot", back_ml: 1 },
    ]);
    expect(slowFrom(burette, 1)).toBeCloseTo(7.2, 9);
  });

  it("is a tenth before what is expected where nothing was titrated yet, dilution and all", () => {
    const expecting = (id: string, more: ConstructorParameters<typeof RunPlayer>[1]) =>
      slowFrom(new RunPlayer(libraryMethod(id), more).state, 0);
    // 100 mg/L of alkalinity take 10 mL of 0.02 N for 100 mL; with a blank of 0.5 mL so much more.
    expect(expecting("alkalinity-burette", { expected: 100 })).toBeCloseTo(9, 6);
    expect(expecting("alkalinity-burette", { expected: 100, blank_ml: 0.5 })).toBeCloseTo(9.45, 6);
    expect(expecting("alkalinity-burette", { expected: 100, dilution: 2 })).toBeCloseTo(4.5, 6);
    expect(expecting("oxygen-syringe", { expected: 8 })).toBeCloseTo(7.2, 6);
  });

  it("is nowhere where nothing is expected, and where nothing is titrated", () => {
    expect(slowFrom(new RunPlayer(libraryMethod("oxygen-burette")).state, 0)).toBeNull();
    expect(slowFrom(new RunPlayer(libraryMethod("oxygen-burette"), { expected: 0 }).state, 0)).toBeNull();
    const photometer = new RunPlayer(libraryMethod("phosphate-photometer"), { expected: 1 });
    expect(slowFrom(photometer.state, 0)).toBeNull();
  });
});
