import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { err, ok } from "../quantity/result";
import { type Folding, replay, replayWith } from "./event";

/** The smallest bench work there is: counting drops up to nine. */
type Drop = { id: string; at: string; by: string } & (
  | { type: "drop" }
  | { type: "rinse" }
  | { type: "undone"; target: string }
);
const counting: Folding<number, Drop> = {
  apply: (count, event) => {
    if (event.type === "rinse") return ok(count ?? 0);
    return (count ?? 0) >= 9 ? err("full", "The tube is full.") : ok((count ?? 0) + 1);
  },
  undoable: (event) => event.type === "drop",
};
const at = "2026-04-12T08:00:00.000Z";
const drop = (id: string): Drop => ({ id, at, by: "noor", type: "drop" });
const undo = (id: string, target: string): Drop => ({ id, at, by: "noor", type: "undone", target });

describe("replay", () => {
  it("of nothing is nothing", () => {
    expect(replay([], counting)).toEqual({ state: null, kept: [], refused: [] });
  });

  it("counts an id once", () => {
    fc.assert(
      fc.property(fc.array(fc.constantFrom("a", "b", "c", "d", "e"), { maxLength: 40 }), (ids) => {
        expect(replay(ids.map(drop), counting).state ?? 0).toBe(new Set(ids).size);
      }),
    );
  });

  it("keeps the reason for what it refuses, and goes on", () => {
    const eleven = Array.from({ length: 11 }, (_, i) => drop(String(i)));
    const { state, refused, kept } = replay(eleven, counting);
    expect(state).toBe(9);
    expect(kept).toHaveLength(9);
    expect(refused.map((r) => [r.event.id, r.message])).toEqual([
      ["9", "The tube is full."],
      ["10", "The tube is full."],
    ]);
  });

  it.each([false, true])("is the same event by event as all at once, by time: %s", (inOrderOfTime) => {
    const folding = { ...counting, inOrderOfTime };
    const event = fc.record({
      id: fc.constantFrom(..."abcdefghijklmnop"),
      minute: fc.integer({ min: 0, max: 9 }),
      target: fc.option(fc.constantFrom(..."abcdefghijklmnop")),
    });
    fc.assert(
      fc.property(fc.array(event, { maxLength: 30 }), (list) => {
        const events = list.map(({ id, minute, target }): Drop => {
          const base = { id, at: `2026-04-12T08:0${minute}:00.000Z`, by: "noor" };
          return target === null ? { ...base, type: "drop" } : { ...base, type: "undone", target };
        });
        let one = replay<number, Drop>([], folding);
        for (const [i, next] of events.entries()) one = replayWith(one, events.slice(0, i), next, folding);
        expect(one).toEqual(replay(events, folding));
      }),
    );
  });

  it("takes back the last drop, once", () => {
    const { state, refused } = replay([drop("a"), drop("b"), undo("u", "b"), undo("v", "b")], counting);
    expect(state).toBe(1);
    expect(refused.map((r) => r.code)).toEqual(["not-the-last"]);
  });

  it("takes back the first drop to nothing, and then has nothing to take", () => {
    expect(replay([drop("a"), undo("u", "a")], counting)).toMatchObject({ state: null, kept: [] });
    expect(replay([undo("u", "a")], counting).refused[0]?.code).toBe("not-the-last");
  });

  it("does not take back what cannot be taken back", () => {
    const rinse: Drop = { id: "r", at, by: "noor", type: "rinse" };
    expect(replay([rinse, undo("u", "r")], counting).refused[0]?.code).toBe("not-undoable");
  });

  it("gives the same state from what it kept as from everything", () => {
    const event = fc.oneof(
      fc.record({ id: fc.uuid() }).map(({ id }) => drop(id)),
      fc.record({ id: fc.uuid(), back: fc.nat(3) }).map(({ id, back }) => undo(id, String(back))),
    );
    fc.assert(
      fc.property(fc.array(event, { maxLength: 25 }), (events) => {
        const once = replay(events, counting);
        expect(replay(once.kept, counting).state).toEqual(once.state);
        expect(replay(events, counting)).toEqual(once);
      }),
    );
  });
});
