import { isValid } from "ulid";
import { describe, expect, it } from "vitest";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import { methodLibrary } from "../../core/methods/library";
import { canPractise } from "../../core/simulation/practiceRun";
import { Visitor } from "./pages";

const hands = benchForEachTest();
const visitor = () => new Visitor(hands.bench);
const water = "01M8TXWNVQA5SGN4D1XKBVV0F6";

describe("practice", () => {
  it("offers every method that has water in a vessel, and no meter", async () => {
    const { html } = await visitor().open("/practice");
    for (const method of methodLibrary)
      expect(html.includes(`href="/practice/${method.id}"`), method.id).toBe(canPractise(method));
  });

  it("gives each beginning water of its own, and the same water to the same address", async () => {
    const begin = async () => (await visitor().open("/practice/oxygen-drops")).location ?? "";
    const first = await begin();
    const id = first.split("/").at(-1) ?? "";
    expect(isValid(id)).toBe(true);
    expect(await begin()).not.toBe(first);
    const { text } = await visitor().open(first);
    expect(text).toContain(`Practice, sample P-${id.slice(-4)}, first of 2`);
    expect(text).toContain("never comes into the records");
  });

  it.each(methodLibrary.filter(canPractise).map((m) => m.id))("begins %s at its first step", async (id) => {
    const { text, status } = await visitor().open(`/practice/${id}/${water}`);
    expect(status).toBe(200);
    const [first] = methodLibrary.find((m) => m.id === id)?.steps ?? [];
    expect(text).toContain(first?.text ?? "no step");
  });

  it("knows no water that is none, no meter and no method that is not there", async () => {
    for (const path of [
      "oxygen-drops/soon",
      "oxygen-drops/7ZZZZZZZZZZZZZZZZZZZZZZZZZ",
      "no-such-method",
      methodLibrary.find((m) => !canPractise(m))?.id,
      `no-such-method/${water}`,
    ])
      expect((await visitor().open(`/practice/${path}`)).status, path).toBe(404);
  });

  it("leaves no row behind", async () => {
    const rows = async () =>
      Promise.all(
        ["bench_work", "bench_events", "readings", "journal"].map(async (table) => {
          const [row] = await hands.bench.db(table).count({ n: "*" });
          return row?.n;
        }),
      );
    const before = await rows();
    await visitor().open(`/practice/oxygen-drops/${water}`);
    expect(await rows()).toEqual(before);
  });
});
