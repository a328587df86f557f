import { describe, expect, it } from "vitest";
import { unusualLook } from "./usualLook";
import { type Look, noLook } from "./visitEvents";

const look = (seen: Partial<Look>): Look => ({ ...noLook, ...seen });
const clear = look({ colour: "clear", smell: "none" });

describe("what is usual at a site", () => {
  it("is what was said most often, and what differs from it is named", () => {
    expect(unusualLook(look({ colour: "brown", smell: "none" }), [clear, clear])).toEqual([
      { key: "colour", now: "brown", usual: "clear" },
    ]);
    expect(unusualLook(clear, [clear, look({ colour: "brown" }), clear])).toEqual([]);
  });

  it("is not known from one look, nor where nothing was said", () => {
    expect(unusualLook(look({ colour: "brown" }), [clear])).toEqual([]);
    expect(unusualLook(noLook, [clear, clear])).toEqual([]);
    expect(unusualLook(look({ wind: "strong" }), [clear, clear])).toEqual([]);
  });
});
