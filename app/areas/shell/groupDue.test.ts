import { describe, expect, it } from "vitest";
import type { DueEntry } from "../../server/day/dueEntry";
import { groupDue } from "./groupDue";

const entry = (kind: DueEntry["kind"], id: string, words = "Calibrate"): DueEntry => ({
  id,
  kind,
  meter_id: null,
  measurands: [],
  title: `${words} ${id}`,
  subject: id,
  detail: "",
  at: "",
  moment: null,
  href: "/",
  when: "now",
});

describe("what is due on the rail", () => {
  it("stands one by one while it is little", () => {
    const due = [entry("calibrate", "a"), entry("check", "b"), entry("calibrate", "c")];
    expect(groupDue(due)).toEqual(due);
  });
  it("stands together when there is much of one kind, at the place of the first, and loses none", () => {
    const due = [
      entry("rejudge", "r"),
      ...["a", "b", "c"].map((id) => entry("calibrate", id)),
      entry("lot", "l"),
    ];
    const [first, group, last] = groupDue(due);
    expect([first, last]).toEqual([due[0], due[4]]);
    expect(group).toMatchObject({
      title: "Calibrate 3 meters",
      detail: "a, b, c",
      when: "now",
      entries: due.slice(1, 4),
    });
  });
  it("keeps what is to be ordered apart from what runs out on the shelf", () => {
    const of = (kind: "lot" | "order", id: string) => ({ ...entry(kind, id), subject: id });
    const due = [
      ...["a", "b", "c"].map((id) => of("lot", id)),
      ...["x", "y", "z"].map((id) => of("order", id)),
    ];
    expect(groupDue(due)).toMatchObject([
      { title: "3 lots run out soon", detail: "a, b, c" },
      { title: "Order or prepare 3 things", detail: "x, y, z" },
    ]);
  });
  it("never puts together what is asked in other words, though it is of one kind", () => {
    const due = [
      ...["a", "b"].map((id) => entry("calibrate", id)),
      ...["t", "f"].map((id) => entry("calibrate", id, "Check")),
      ...["a", "b", "c"].map((id) => entry("check", id, "Closing check of")),
    ];
    expect(groupDue(due).map((d) => d.title)).toEqual([
      "Calibrate a",
      "Calibrate b",
      "Check t",
      "Check f",
      "Closing check of 3 meters",
    ]);
  });
});
