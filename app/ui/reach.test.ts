import { beforeEach, describe, expect, it, vi } from "vitest";
import { untilReached } from "./reach";

describe("a page that waits for the server", () => {
  let there: boolean;
  let asked: string[];
  let hour = 0;
  beforeEach(() => {
    // Each an hour after the other: whoever was heard is not there lately.
    vi.useFakeTimers({ now: ++hour * 3_600_000 });
    asked = [];
    vi.stubGlobal("fetch", async (url: string) => {
      asked.push(url);
      if (!there) throw new TypeError("Failed to fetch");
      return new Response("", { status: 503 });
    });
  });

  it("does not wait where it answers, whatever it answers, and does not ask again at once", async () => {
    there = true;
    expect(await untilReached(new AbortController().signal)).toBe(false);
    expect(await untilReached(new AbortController().signal)).toBe(false);
    expect(asked).toEqual(["/health"]);
    vi.advanceTimersByTime(1000);
    expect(await untilReached(new AbortController().signal)).toBe(false);
    expect(asked).toHaveLength(2);
  });

  it("waits until it answers", async () => {
    there = false;
    let waited: boolean | undefined;
    const waiting = untilReached(new AbortController().signal).then((was) => {
      waited = was;
    });
    await vi.advanceTimersByTimeAsync(5000);
    expect(waited).toBeUndefined();
    there = true;
    await vi.advanceTimersByTimeAsync(2000);
    await waiting;
    expect(waited).toBe(true);
    expect(asked).toHaveLength(4);
  });

  it("ends when nobody waits any more, and asks for nothing after that", async () => {
    there = false;
    const left = new AbortController();
    const waiting = untilReached(left.signal);
    await vi.advanceTimersByTimeAsync(500);
    left.abort();
    expect(await waiting).toBe(true);
    await vi.advanceTimersByTimeAsync(10_000);
    expect(asked).toHaveLength(1);
  });
});
