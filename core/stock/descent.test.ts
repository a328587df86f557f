import { describe, expect, it } from "vitest";
import { descentOf, type Edge } from "./descent";

const edge = (from: string, id: string, more: Partial<Edge> = {}): Edge => ({
  from,
  id,
  code: id.toUpperCase(),
  name: id,
  withdrawn: false,
  how: "made",
  at: "2026-04-01T08:00:00.000Z",
  ...more,
});
const standardised = (id: string, at: string) => edge("titrant", id, { how: "standardised", at });
const noon = "2026-04-20T12:00:00.000Z";

describe("the descent of a lot", () => {
  it("goes up level by level, each lot once in a place", () => {
    const edges = [edge("working", "stock"), edge("working", "stock"), edge("stock", "salt")];
    expect(descentOf(edges, "working", "up", noon)).toMatchObject([
      { id: "stock", kin: [{ id: "salt", kin: [] }] },
    ]);
  });

  it("names of two standards the one in force at the moment, and both in the other way", () => {
    const edges = [
      edge("titrant", "salt"),
      standardised("iodate-1", "2026-04-10T08:00:00.000Z"),
      standardised("iodate-2", "2026-04-15T08:00:00.000Z"),
    ];
    const at = (moment: string) => descentOf(edges, "titrant", "up", moment).map((k) => k.id);
    expect(at("2026-04-09T08:00:00.000Z")).toEqual(["salt"]);
    expect(at("2026-04-12T08:00:00.000Z")).toEqual(["salt", "iodate-1"]);
    expect(at(noon)).toEqual(["salt", "iodate-2"]);
    expect(descentOf(edges, "titrant", "down", noon)).toHaveLength(3);
  });

  it("ends, though two solutions were held against each other", () => {
    const edges = [
      edge("acid", "base", { how: "standardised" }),
      edge("base", "acid", { how: "standardised" }),
    ];
    expect(JSON.stringify(descentOf(edges, "acid", "up", noon)).match(/BASE/g)).toHaveLength(3);
  });
});
