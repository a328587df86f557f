import { describe, expect, it } from "vitest";
import { replay } from "../../../core/bench/event";
import { runFolding } from "../../../core/runs/run";
import { libraryMethod, RunPlayer } from "../../../core/simulation/runPlayer";
import { stamp } from "./stamp";

describe("the stamp of a bench event", () => {
  it("rises within one millisecond", () => {
    const now = Date.parse("2026-04-12T08:00:00.000Z");
    const ids = Array.from({ length: 500 }, () => stamp(now, undefined).id);
    expect([...ids].sort()).toEqual(ids);
    expect(new Set(ids).size).toBe(500);
  });

  it("is never before the last event that is known, however far the clock is behind", () => {
    const last = { at: "2026-04-12T08:00:05.000Z" };
    expect(stamp(Date.parse("2026-04-12T07:59:00.000Z"), last).at).toBe(last.at);
    expect(stamp(Date.parse("2026-04-12T08:00:06.000Z"), last).at).toBe("2026-04-12T08:00:06.000Z");
  });

  it("keeps an end point and its reading, kept at one stroke, in their order", () => {
    const played = new RunPlayer(libraryMethod("oxygen-syringe"));
    const step = played.until("read");
    played.happen({ type: "scale-start", replicate: 0, value: 0 });
    const now = played.clock + 1000;
    for (let i = 0; i < 50; i++) {
      const last = played.events.at(-1);
      const end = { ...stamp(now, last), by: "p", type: "scale-end" as const, replicate: 0, value: 8 };
      const read = {
        ...stamp(now, end),
        by: "p",
        type: "read" as const,
        replicate: 0,
        step: step.id,
        raw: { kind: "titrated" as const },
      };
      expect(replay([...played.events, read, end], runFolding).refused).toEqual([]);
    }
  });
});
