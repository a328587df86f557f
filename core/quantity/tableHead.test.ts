import { expect, it } from "vitest";
import { columnsByHead } from "./tableHead";

it("a column is given to one field, in the order of the guesses, and only where it may be", () => {
  const head = ["Lot", "Lot name", "Expires"];
  const guesses = [
    ["name", /name/i],
    ["code", /lot/i],
    ["until", /expir/i],
    ["more", /lot/i],
  ] as const;
  expect(columnsByHead(head, guesses)).toEqual({ name: "Lot name", code: "Lot", until: "Expires" });
  expect(columnsByHead(head, guesses, (h) => h !== "Lot")).toEqual({ name: "Lot name", until: "Expires" });
  expect(columnsByHead([], guesses)).toEqual({});
});
