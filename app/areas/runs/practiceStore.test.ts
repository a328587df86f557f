import { beforeEach, describe, expect, it, vi } from "vitest";

/** A browser's store, as far as practice uses it. */
function browserStore(): Storage {
  const kept = new Map<string, string>();
  const store = Object.create(null) as Record<string, unknown>;
  return new Proxy(store, {
    ownKeys: () => [...kept.keys()],
    getOwnPropertyDescriptor: () => ({ enumerable: true, configurable: true }),
    get: (_, name) =>
      ({
        getItem: (key: string) => kept.get(key) ?? null,
        setItem: (key: string, text: string) => void kept.set(key, text),
        removeItem: (key: string) => void kept.delete(key),
      })[name as string],
  }) as unknown as Storage;
}

const fresh = () => {
  vi.resetModules();
  return import("./practiceStore");
};
const practice = (more = {}) => ({
  method: "oxygen-drops",
  version: 1,
  at: "2026-11-26T08:00:00.000Z",
  later_ms: 0,
  moved: {},
  events: [],
  outcome: null,
  ...more,
});
const id = (n: number) => `01M8TXWNVQA5SGN4D1XKBVV${String(n).padStart(3, "0")}`;
const drop = {
  id: id(1),
  at: "2026-11-26T08:00:01.000Z",
  by: "p",
  type: "drop" as const,
  replicate: 0,
};

beforeEach(() => {
  vi.stubGlobal("localStorage", browserStore());
  vi.stubGlobal("window", new EventTarget());
});

describe("practised runs in a browser", () => {
  it("outlive the page, each person's by themselves", async () => {
    const store = await fresh();
    store.keepPractice("noor", id(1), () => practice({ events: [drop], moved: { 0: { level: 3, out: 2 } } }));
    const again = await fresh();
    expect(again.practiceOf("noor", id(1))).toMatchObject({
      events: [drop],
      moved: { 0: { level: 3, out: 2 } },
    });
    expect(again.practiceOf("idris", id(1))).toBeNull();
    expect(again.practisedBy("noor").map((p) => p.id)).toEqual([id(1)]);
    expect(again.practisedBy("idris")).toEqual([]);
  });

  it("are one object while nothing changed, and are told when something did, here or in another tab", async () => {
    const { keepPractice, onPractice, practiceOf } = await fresh();
    let heard = 0;
    const stop = onPractice(() => heard++);
    keepPractice("noor", id(1), () => practice());
    expect(practiceOf("noor", id(1))).toBe(practiceOf("noor", id(1)));
    const before = practiceOf("noor", id(1));
    localStorage.setItem(`brintel.practice noor ${id(1)}`, JSON.stringify(practice({ later_ms: 60_000 })));
    window.dispatchEvent(new Event("storage"));
    expect(heard).toBe(2);
    expect(practiceOf("noor", id(1))).not.toBe(before);
    keepPractice("noor", id(1), (found) => practice({ ...found, outcome: "Given up." }));
    expect(practiceOf("noor", id(1))).toMatchObject({ later_ms: 60_000, outcome: "Given up." });
    stop();
    keepPractice("noor", id(2), () => practice());
    expect(heard).toBe(3);
  });

  it("that cannot be read count as not begun", async () => {
    for (const text of [
      "{",
      '{"method":7}',
      JSON.stringify(practice({ events: [{ ...drop, replicate: -1 }] })),
    ]) {
      localStorage.setItem(`brintel.practice noor ${id(1)}`, text);
      const store = await fresh();
      expect(store.practiceOf("noor", id(1)), text).toBeNull();
      expect(store.practisedBy("noor")).toEqual([]);
    }
  });

  it("are kept up to thirty, the oldest going first, and nothing else goes with them", async () => {
    const { keepPractice, practisedBy } = await fresh();
    localStorage.setItem("brintel.calculators", "[]");
    keepPractice("idris", id(1), () => practice());
    for (let n = 1; n <= 33; n++) keepPractice("noor", id(n), () => practice());
    expect(practisedBy("noor").map((p) => p.id)).toEqual(Array.from({ length: 30 }, (_, i) => id(33 - i)));
    expect(practisedBy("idris")).toHaveLength(1);
    expect(localStorage.getItem("brintel.calculators")).toBe("[]");
  });

  it("go on where nothing can be stored, for as long as the page is open", async () => {
    vi.stubGlobal("localStorage", {
      getItem: () => null,
      setItem: () => {
        throw new DOMException("full", "QuotaExceededError");
      },
    });
    const { keepPractice, practiceOf } = await fresh();
    keepPractice("noor", id(1), () => practice({ events: [drop] }));
    keepPractice("noor", id(1), (before) => practice({ ...before, later_ms: 5 }));
    expect(practiceOf("noor", id(1))).toMatchObject({ events: [drop], later_ms: 5 });
  });
});
