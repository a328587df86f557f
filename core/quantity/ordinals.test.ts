import { expect, it } from "vitest";
import { ordinalFirst } from "./ordinals";

it("counts in words up to the eighth, and in figures from there", () => {
  expect([0, 1, 7, 8].map(ordinalFirst)).toEqual(["First", "Second", "Eighth", "9."]);
});
