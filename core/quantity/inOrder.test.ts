import { expect, it } from "vitest";
import { inOrder } from "./inOrder";

it("puts text in the order of its characters, moments and ids by their time", () => {
  const moments = ["2026-04-12T09:31:00.100Z", "2026-04-12T09:31:00.020Z", "2025-12-31T23:59:59.999Z"];
  expect([...moments].sort(inOrder)).toEqual([...moments].sort());
  expect(["b", "a", "B", "A", "A"].sort(inOrder)).toEqual(["A", "A", "B", "a", "b"]);
  expect(inOrder("A", "A")).toBe(0);
});
