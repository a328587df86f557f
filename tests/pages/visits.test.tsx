import { ulid } from "ulid";
import { describe, expect, it } from "vitest";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import { calibratedPh } from "../../app/server/testing/testBench";
import { Visitor } from "./pages";

const hands = benchForEachTest();
const visitor = () => new Visitor(hands.bench);
const plan = (more: Record<string, string | string[]> = {}) => ({
  work: ulid(),
  event: ulid(),
  site: hands.bench.site.id,
  ...more,
});

describe("planning a visit", () => {
  it("offers the sites, and says that nobody has been anywhere", async () => {
    const { text, status } = await visitor().open("/visits");
    expect(status).toBe(200);
    expect(text).toContain("Nobody has been anywhere yet.");
    expect(text).toContain("Choose what to do there.");
  });

  it("gives a sentence for nothing to do, and for a site that is gone", async () => {
    const empty = await visitor().send("/visits", plan());
    expect([empty.status, empty.text.includes("Choose at least one thing to do there.")]).toEqual([
      422,
      true,
    ]);
    const gone = await visitor().send("/visits", plan({ site: "nowhere", also: "air" }));
    expect([gone.status, gone.text.includes("This site is gone.")]).toEqual([422, true]);
  });

  it("begins the visit once, with its list, and brings the list to the next one", async () => {
    const form = plan({ also: "look", bottles: "nutrients-filtered", measurands: "ph" });
    await visitor().send("/visits", form);
    const begun = await visitor().open(`/visits/${form.work}`);
    expect(begun.text).toContain("Not there yet");
    for (const item of ["Arrive", "Look and smell", "pH", "Nutrients, filtered", "Leave"])
      expect(begun.text).toContain(item);
    await visitor().send("/visits", form);
    expect(await hands.bench.db("bench_work").where({ kind: "visit" })).toHaveLength(1);
    const list = await visitor().open("/visits");
    expect(list.text).toContain("under way");
    expect(list.text).toContain("As the last time there");
  });

  it("is not there for an id that is none, or is another work's", async () => {
    expect((await visitor().open("/visits/none")).status).toBe(404);
  });
});

describe("work that is begun from a visit", () => {
  const begunVisit = async () => {
    const form = plan({ also: "look", measurands: "ph" });
    await visitor().send("/visits", form);
    return form.work;
  };
  const reading = (visit: string) => ({
    work: ulid(),
    event: ulid(),
    site: hands.bench.site.id,
    sample: "BP-0412",
    measurand: "ph",
    in_place: "yes",
    visit,
  });
  const read = () => `/meters/${hands.bench.meter.id}/read`;

  it("offers the water itself, keeps that it came from there, and leads back", async () => {
    await calibratedPh(hands.bench);
    const visit = await begunVisit();
    const asked = await visitor().open(`${read()}?visit=${visit}`);
    expect(asked.html).toMatch(/name="in_place"[^>]*checked|checked[^>]*name="in_place"/);
    const form = reading(visit);
    expect((await visitor().send(read(), form)).location).toBe(`/readings/${form.work}`);
    const { text } = await visitor().open(`/readings/${form.work}`);
    expect(text).toContain("In the water, with");
    expect(text).not.toContain("third portion");
    expect((await visitor().open(`/visits/${visit}`)).text).toContain("under way");
  });

  it("is refused with a sentence when there is no such visit", async () => {
    await calibratedPh(hands.bench);
    const refused = await visitor().send(read(), reading(ulid()));
    expect([refused.status, refused.text.includes("This visit is not known here.")]).toEqual([422, true]);
  });
});
