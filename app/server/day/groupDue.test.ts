import { describe, expect, it } from "vitest";
import type { DueEntry } from "./dueEntry";
import { type DueGroup, dueParts, groupDue, unfolded, withCausesAsOne } from "./groupDue";

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
  it("asks once for the causes of many checks that are out, and names what was measured", () => {
    const due = Array.from({ length: 982 }, (_, i) => ({
      ...entry("cause", `c${i}`, "Find the cause:"),
      subject: i % 2 ? "Phosphate" : "Chloride",
    }));
    const [group, ...more] = groupDue(due);
    expect(more).toEqual([]);
    expect(group).toMatchObject({
      title: "Find the cause of 982 checks that are out",
      detail: "Chloride, Phosphate",
      others: 982 - unfolded,
      anchor: "cause",
    });
    expect((group as DueGroup).entries).toHaveLength(unfolded);
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
  it("unfolds the first of very many, counts the others and says where all of them are", () => {
    const lots = Array.from({ length: 300 }, (_, i) => ({ ...entry("lot", `l${i}`), subject: `L-${i}` }));
    const [group, ...rest] = groupDue([...lots, ...["a", "b", "c"].map((id) => entry("calibrate", id))]);
    expect(group).toMatchObject({
      title: "300 lots run out soon",
      detail: "L-0, L-1, L-2, L-3, L-4, L-5, L-6, L-7 and 292 more",
      entries: lots.slice(0, unfolded),
      others: 300 - unfolded,
      anchor: "lot",
    });
    expect(rest).toMatchObject([{ title: "Calibrate 3 meters", others: 0, anchor: "calibrate-calibrate" }]);
  });
  it("counts nobody where all of them are asked for", () => {
    const lots = Array.from({ length: 300 }, (_, i) => entry("lot", `l${i}`));
    expect(groupDue(lots, Number.POSITIVE_INFINITY)).toMatchObject([{ entries: lots, others: 0 }]);
  });
  it("names a lot once that is asked for twice, and counts nobody where all are named", () => {
    const due = ["x", "x", "y"].map((id, i) => ({ ...entry("order", `${id}${i}`), subject: id }));
    expect((groupDue(due)[0] as DueGroup).detail).toBe("x, y");
  });
});

describe("everything that is due", () => {
  it("is all of it in its order, with a title over what is asked of several", () => {
    const lots = Array.from({ length: 30 }, (_, i) => entry("lot", `l${i}`));
    const due = [entry("rejudge", "r"), entry("calibrate", "a"), ...lots, entry("check", "c")];
    const parts = dueParts(due);
    expect(parts.map(({ title, anchor, entries }) => [title, anchor, entries.length])).toEqual([
      [null, null, 2],
      ["30 lots run out soon", "lot", 30],
      [null, null, 1],
    ]);
    expect(parts.flatMap((p) => p.entries)).toEqual(due);
    expect(dueParts([])).toEqual([]);
  });
  it("leaves the most of very many causes to the page that has every one of them", () => {
    const causes = (n: number) => Array.from({ length: n }, (_, i) => entry("cause", `c${i}`));
    expect(dueParts(causes(982))).toMatchObject([
      { entries: causes(20), others: { count: 962, href: "/quality?out=all" } },
    ]);
    expect(dueParts(causes(20))).toMatchObject([{ entries: causes(20), others: null }]);
  });
});

describe("what is due in somebody's calendar", () => {
  it("asks once for many causes, always by the same id, and keeps everything else", () => {
    const of = (from: number, to: number) =>
      Array.from({ length: to - from }, (_, i) => entry("cause", `c${from + i}`, "Find the cause:"));
    const other = [entry("calibrate", "a"), entry("lot", "l")];
    const [a, l] = other;
    const many = withCausesAsOne([...of(0, 982), ...other]);
    expect(many.map((d) => [d.id, d.title])).toEqual([
      [a?.id, a?.title],
      [l?.id, l?.title],
      ["causes", "Find the cause of 982 checks that are out"],
    ]);
    // A calendar that reads again a day later finds the same event with another number, not a second one.
    expect(withCausesAsOne(of(5, 900)).map((d) => d.id)).toEqual(["causes"]);
    expect(withCausesAsOne([...of(0, 2), ...other])).toEqual([...of(0, 2), ...other]);
  });
});
