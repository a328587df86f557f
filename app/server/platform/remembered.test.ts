import { describe, expect, it } from "vitest";
import { remembered } from "./remembered";

describe("what was made of a text", () => {
  it("is made once, and again only after as many others as are remembered", () => {
    const made: string[] = [];
    const lengthOf = remembered(3, (text) => {
      made.push(text);
      return { length: text.length };
    });
    const first = lengthOf("heron");
    for (const text of ["otter", "heron", "eel", "heron"]) lengthOf(text);
    expect(made).toEqual(["heron", "otter", "eel"]);
    expect(lengthOf("heron")).toBe(first);
    expect(lengthOf("dragonfly")).toEqual({ length: 9 });
    expect(lengthOf("heron")).not.toBe(first);
    expect(made).toEqual(["heron", "otter", "eel", "dragonfly", "heron"]);
  });

  it("is not remembered when it could not be made", () => {
    let tries = 0;
    const never = remembered(3, () => {
      tries++;
      throw new Error("no such thing");
    });
    expect(() => never("x")).toThrow("no such thing");
    expect(() => never("x")).toThrow("no such thing");
    expect(tries).toBe(2);
  });
});
