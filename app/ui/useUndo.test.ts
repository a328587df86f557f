import { describe, expect, it } from "vitest";
import { redone, undone, withChange } from "./useUndo";

const first = { past: [], now: "a", future: [], of: "", at: 0 };

describe("changes that can be taken back", () => {
  it("go back and forward one by one, and stop at both ends", () => {
    const third = withChange(withChange(first, "b", "", 1), "c", "", 2);
    expect(undone(third).now).toBe("b");
    expect(undone(undone(undone(third))).now).toBe("a");
    expect(redone(undone(undone(third))).now).toBe("b");
    expect(redone(third)).toBe(third);
  });

  it("are one change while somebody types on in one field", () => {
    const typed = withChange(
      withChange(withChange(first, "ab", "name", 10_000), "abc", "name", 10_400),
      "abcd",
      "name",
      10_900,
    );
    expect(undone(typed).now).toBe("a");
    // Another field, or a pause, begins another change.
    expect(undone(withChange(typed, "abcd!", "text", 11_000)).now).toBe("abcd");
    expect(undone(withChange(typed, "abcd!", "name", 13_000)).now).toBe("abcd");
  });

  it("forget what was undone once something else is done", () => {
    const other = withChange(undone(withChange(first, "b", "", 1)), "z", "", 2);
    expect(other.future).toEqual([]);
    expect(undone(other).now).toBe("a");
  });

  it("do not count what changed nothing", () => {
    expect(withChange(first, "a", "", 1)).toBe(first);
  });
});
