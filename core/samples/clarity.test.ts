import { describe, expect, it } from "vitest";
import { type Clarity, clarityProblem, claritySchema, clarityWords, deepest_cm } from "./clarity";

const disc = (change: Partial<Clarity> = {}): Clarity => ({
  disc_cm: 20,
  disappears_cm: 184,
  reappears_cm: 176,
  depth_cm: null,
  ...change,
});

describe("the depths of a disc", () => {
  it.each<[string, Partial<Clarity>, string | null]>([
    ["both looks", {}, null],
    ["exactly at the bottom", { depth_cm: 184 }, null],
    ["deeper than the water", { depth_cm: 183.9 }, "depth_cm"],
    ["one look only", { reappears_cm: null }, "reappears_cm"],
    ["nothing at all", { disappears_cm: null, reappears_cm: null }, "depth_cm"],
    ["seen on the bottom", { disappears_cm: null, reappears_cm: null, depth_cm: 90 }, null],
    ["the longest line", { disappears_cm: deepest_cm }, null],
    ["a longer one", { disappears_cm: deepest_cm + 1 }, "disappears_cm"],
    ["no depth", { reappears_cm: 0 }, "reappears_cm"],
  ])("%s", (_words, change, path) => {
    const clarity = disc(change);
    expect(clarityProblem(clarity)?.path ?? null).toBe(path);
    // What a page says is what the record refuses.
    expect(claritySchema.safeParse(clarity).success).toBe(path === null);
  });

  it("are written as their mean, or as more than the water is deep", () => {
    expect(clarityWords(disc())).toBe("180 cm");
    const bottom = disc({ disappears_cm: null, reappears_cm: null, depth_cm: 90 });
    expect(clarityWords(bottom)).toBe("> 90 cm, seen on the bottom");
  });
});
