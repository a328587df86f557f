import { describe, expect, it } from "vitest";
import { replay } from "../bench/event";
import { visitFolding } from "./visit";
import { visitClocks } from "./visitClocks";
import { noPlan, type VisitEvent, visitEventSchema } from "./visitEvents";

const at = (clock: string) => `2026-04-12T${clock}:00.000Z`;
const ms = (clock: string) => Date.parse(at(clock));
let n = 0;
const said = (clock: string, event: object): VisitEvent =>
  visitEventSchema.parse({
    id: `01KP0000000000000000000${String(++n).padStart(3, "0")}`,
    at: at(clock),
    by: "noor",
    ...event,
  });
const visit = (...events: [clock: string, event: object][]) => {
  const started = {
    type: "started",
    site: { id: "s", name: "Borehole" },
    plan: { ...noPlan, air: true, well: { volumes: 3, rounds: 3 } },
  };
  const all = [["11:50", started], ...events] as [string, object][];
  const { state } = replay(
    all.map(([clock, event]) => said(clock, event)),
    visitFolding,
  );
  if (!state) throw new Error("No visit.");
  return state;
};
const alone: [string, object] = ["12:00", { type: "arrived", people: "", back_by: at("13:00") }];

describe("the clocks of a visit", () => {
  it("are the thermometer until it is read, and the word of somebody alone until it is given", () => {
    const hung = visit(alone, ["12:00", { type: "hung" }]);
    expect(visitClocks(hung, ms("12:01")).map((c) => [c.key, c.began, c.due])).toEqual([
      ["air", ms("12:00"), ms("12:05")],
      ["back", ms("12:00"), ms("13:00")],
    ]);
    const read = visit(
      alone,
      ["12:00", { type: "hung" }],
      ["12:06", { type: "air-read", value_c: 9 }],
      ["12:50", { type: "checked-in", back_by: null }],
    );
    expect(visitClocks(read, ms("12:51"))).toEqual([]);
  });

  it("are the purge, which follows the flow, until it is done or the pump stands", () => {
    const dip = { type: "dipped", dip: { depth_m: 24, level_m: 14, diameter_mm: 150 } };
    const running = visit(
      ["12:00", { type: "arrived", people: "" }],
      ["12:01", dip],
      ["12:02", { type: "flow", litres: 10, seconds: 20 }],
    );
    // 530 L at 0.5 L/s take 17.7 min (common practice).
    const [clock] = visitClocks(running, ms("12:02"));
    expect(((clock?.due ?? 0) - ms("12:02")) / 60_000).toBeCloseTo(17.67, 2);
    expect(visitClocks(running, ms("12:20"))).toEqual([]);
  });

  it("stop with the visit", () => {
    const over = visit(alone, ["12:10", { type: "finished" }]);
    expect(visitClocks(over, ms("12:11"))).toEqual([]);
  });
});
