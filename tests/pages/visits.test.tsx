import { monotonicFactory } from "ulid";
import { describe, expect, it } from "vitest";
import { postEvents } from "../../app/server/bench/bench.server";
import { startReading } from "../../app/server/calibrations/startWork.server";
import { addPerson } from "../../app/server/people/people.server";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import {
  calibratedPh,
  calibratedPond,
  checkedPond,
  liveSignals,
  wholeRun,
} from "../../app/server/testing/testBench";
import { roundsCalledOff } from "../../app/server/visits/rounds.server";
import { Visitor } from "./pages";

/** Ids that rise as things happen, as a browser makes them. */
const ulid = monotonicFactory();
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

  it("is refused with a sentence when other work was begun with the same form", async () => {
    await calibratedPh(hands.bench);
    const visit = await begunVisit();
    const form = reading(visit);
    await visitor().send(read(), form);
    const other = { ...reading(visit), event: form.event };
    const refused = await visitor().send(read(), other);
    expect([refused.status, refused.text.includes("Other work was begun with this form already.")]).toEqual([
      422,
      true,
    ]);
    expect((await visitor().open(`/readings/${other.work}`)).status).toBe(404);
  });
});

describe("a visit at which a meter read", () => {
  it("says that the meter was not checked since, and no longer once it was", async () => {
    const bench = hands.bench;
    await calibratedPond(bench, "2026-04-12T08:00:00.000Z");
    const form = plan({ also: "look" });
    await visitor().send("/visits", form);
    const start = { work_id: ulid(), event_id: ulid(), actor: bench.person, visit_id: form.work };
    const at = new Date().toISOString();
    const choices = { sample: "BP", measurands: ["ph"] as const, in_place: true };
    await startReading(bench.db, { ...start, at }, bench.pond, bench.site, choices);
    await postEvents(
      bench.db,
      bench.person,
      start.work_id,
      wholeRun(bench, [liveSignals({ ph: -62 })], at),
      at,
    );
    const owed = "M-1 has read here and was not checked since.";
    await visitor().ask(`/bench/${form.work}/events`, {
      sent_at: at,
      events: [{ type: "arrived", people: "" }, { type: "finished" }].map((e) => ({
        id: ulid(),
        at,
        by: "x",
        ...e,
      })),
    });
    expect((await visitor().open(`/visits/${form.work}`)).text).toContain(owed);
    const later = new Date(Date.parse(at) + 1000).toISOString();
    await checkedPond(bench, { conductivity: 718, ph: 0, oxygen: 90 }, later);
    expect((await visitor().open(`/visits/${form.work}`)).text).not.toContain(owed);
  });
});

describe("lists that are kept", () => {
  it("become templates: kept once, a new version when they change, and bring their list", async () => {
    const keep = (bottles: string, name: string) =>
      visitor().send("/visits", plan({ do: "template", template_name: name, bottles, also: "clarity" }));
    const kept = await keep("sterile", "Bathing water");
    expect(kept.location).toContain("template=");
    await keep("sterile", "bathing water");
    await keep("general", "Bathing water");
    const versions = await hands.bench.db("visit_templates").orderBy("version").select("name", "version");
    expect(versions).toEqual([
      { name: "Bathing water", version: 1 },
      { name: "Bathing water", version: 2 },
    ]);
    const offered = await visitor().open(kept.location ?? "");
    expect(offered.text).toContain("By the template; change what is different.");
    expect(offered.text).toContain("“Bathing water” is kept.");
    expect(offered.html).toMatch(/value="general"[^>]*checked|checked[^>]*value="general"/);
    const nameless = await keep("general", " ");
    expect([nameless.status, nameless.text.includes("Give the template a name.")]).toEqual([422, true]);
  });
});

const tubes = {
  received_on: "2026-01-01",
  expires_on: "2031-01-01",
  size: "60",
  place: "shelf",
};

describe("a round of several sites", () => {
  const form = (more: Record<string, string | string[]> = {}) => ({
    id: ulid(),
    name: "Monday round",
    on_date: "2026-04-13",
    person: hands.bench.person.id,
    order: "upstream",
    sites: hands.bench.site.id,
    ...more,
  });
  const withList = () =>
    visitor().send("/visits", plan({ bottles: ["oxygen-pair", "general"], also: "air" }));

  it("needs a name, a person, sites, and a list for each", async () => {
    const send = async (more: Record<string, string | string[]>) =>
      (await visitor().send("/visits/rounds/new", form(more))).text;
    expect(await send({ name: "" })).toContain("Give the round a name.");
    expect(await send({ sites: [] })).toContain("Choose at least one site.");
    expect(await send({ person: "nobody" })).toContain("This person is gone.");
    expect(await send({})).toContain("has no list yet: choose a template for it.");
    expect(await hands.bench.db("rounds")).toHaveLength(0);
  });

  it("is planned once, with its kit, its labels, and a visit at each stop that begins once", async () => {
    await withList();
    const round = form();
    expect((await visitor().send("/visits/rounds/new", round)).location).toBe(`/visits/rounds/${round.id}`);
    await visitor().send("/visits/rounds/new", round);
    expect(await hands.bench.db("rounds")).toHaveLength(1);
    const page = await visitor().open(`/visits/rounds/${round.id}`);
    for (const words of [
      "Monday round",
      hands.bench.site.name,
      "2 bottles",
      "Begin here",
      "Gloves and goggles",
    ])
      expect(page.text).toContain(words);
    expect((await visitor().open("/visits")).text).toContain("Monday round");
    const labels = await visitor().open(`/visits/rounds/${round.id}/labels`);
    const [code] = /BP-0413-1\w\w/.exec(labels.text) ?? [];
    expect(code).toBeDefined();

    const [stop] = JSON.parse((await hands.bench.db("rounds").first()).stops);
    const begin = () => visitor().send(`/visits/rounds/${round.id}`, { stop: stop.work });
    expect((await begin()).location).toBe(`/visits/${stop.work}`);
    await begin();
    expect(await hands.bench.db("bench_work").where({ id: stop.work })).toHaveLength(1);
    // The bottle that is filled there bears the label that was printed.
    const now = new Date().toISOString();
    const events = [
      { type: "arrived", people: "" },
      { type: "filled", bottle: 0, sample: stop.plan.labels[0], depth_cm: 15 },
    ].map((e) => ({ id: ulid(), at: now, by: "x", ...e }));
    await visitor().ask(`/bench/${stop.work}/events`, { sent_at: now, events });
    expect((await visitor().ask(`/find?code=${code}`)).headers.get("Location")).toBe(
      `/samples/${stop.plan.labels[0].id}`,
    );
    expect((await visitor().open(`/visits/rounds/${round.id}`)).text).toContain("Go on there");
  });

  it("is put off, given to somebody else, and called off with a reason; what was begun of it stays", async () => {
    const { db, person } = hands.bench;
    const other = await addPerson(
      db,
      { name: "Idris", role: "technician" },
      person,
      "2026-04-12T09:00:00.000Z",
    );
    await withList();
    const round = form({ on_date: "2099-04-13" });
    const page = `/visits/rounds/${round.id}`;
    await visitor().send("/visits/rounds/new", round);
    const move = (fields: Record<string, string>) =>
      visitor().send(page, { do: "move", on_date: "2099-04-14", person_id: other?.id ?? "", ...fields });
    for (const [fields, sentence] of [
      [{ on_date: "soon" }, "Give a date as year-month-day."],
      [{ person_id: "nobody" }, "This person is gone. Choose another."],
    ] as const) {
      const refused = await move(fields);
      expect([refused.status, refused.text.includes(sentence)]).toEqual([422, true]);
    }
    await move({});
    await move({});
    expect((await visitor().open(page)).text).toMatch(/Tue,? 14 Apr, Idris/);
    expect(await db("journal").where({ action: "round moved" })).toHaveLength(1);

    const unsaid = await visitor().send(page, { reason: " " });
    expect([unsaid.status, unsaid.text.includes("Say why it is called off.")]).toEqual([422, true]);
    expect((await visitor().send(page, { reason: "x".repeat(201) })).status).toBe(422);
    await visitor().send(page, { reason: "The river is over its banks." });
    await visitor().send(page, { reason: "again" });
    const { text } = await visitor().open(page);
    expect(text).toMatch(
      /Called off\. What is left of it is not owed\. Noor, .*: The river is over its banks\./,
    );
    expect(text).not.toContain("Begin here");
    // Until its day is over it says why nobody goes.
    expect((await visitor().open("/visits")).text).toMatch(
      /Called off void Monday round, Tue 14 Apr since .*: The river is over its banks\./,
    );
    expect(await roundsCalledOff(db, "2099-04-15")).toEqual([]);
    const [stop] = JSON.parse((await db("rounds").first()).stops);
    expect((await visitor().send(page, { stop: stop.work })).status).toBe(404);
    expect(await db("journal").where({ action: "round called off" })).toHaveLength(1);
    for (const fields of [
      { reason: "x" },
      { do: "move", on_date: "2099-01-01", person_id: person.id },
    ] as Record<string, string>[])
      expect((await visitor().send("/visits/rounds/none", fields)).status).toBe(404);
  });

  it("packs what its tests take, with spares, from the bottle to be used up first, and says what is missing", async () => {
    const bottle = { ...tubes, kind: "reagent", portion: "0.4", unit: "mL" };
    for (const [code, name, more] of [
      ["MN-1", "Manganese(II) sulfate", { opened_on: "2026-04-01" }],
      ["MN-2", "Manganese(II) sulfate", {}],
      ["ST-1", "Starch indicator", { size: "0.5" }],
    ] as const)
      await visitor().send("/stock/new", { ...bottle, code, name, serves: name, ...more });
    await visitor().send("/visits", plan({ methods: ["oxygen-drops"], also: "air" }));
    const round = form();
    await visitor().send("/visits/rounds/new", round);
    expect((await visitor().open(`/visits/rounds/${round.id}`)).text).toContain("Pack list");
    const { text } = await visitor().open(`/visits/rounds/${round.id}/pack`);
    // Opened before the other, and enough: the second stays at home.
    expect(text).toMatch(/Manganese\(II\) sulfate \d \S+ (mL|drops) MN-1 shelf/);
    expect(text).not.toContain("MN-2");
    expect(text).toContain("ST-1: not enough, order or prepare");
    expect(text).toContain("Sulfuric acid");
    expect(text).toContain("none on the shelf: order or prepare");
    expect(text).toContain("labelled container for acid and azide");
    expect((await visitor().open("/visits/rounds/none/pack")).status).toBe(404);
  });

  it("is not there for an id that is none, nor a stop of another round", async () => {
    expect((await visitor().open("/visits/rounds/none")).status).toBe(404);
    expect((await visitor().open("/visits/rounds/none/labels")).status).toBe(404);
    expect((await visitor().send("/visits/rounds/none", { stop: "x" })).status).toBe(404);
  });
});

describe("the purge table", () => {
  it("holds the numbers for the truck (common practice: 10 m in 150 mm are 177 L, 530 L take 18 min at 0.5 L/s)", async () => {
    const { text } = await visitor().open("/visits/purge-table");
    expect(text).toMatch(/10 19\.6 44\.2 78\.5 123 177 314/);
    expect(text).toMatch(/500 83 42 17 8\.3 4\.2/);
  });
});
