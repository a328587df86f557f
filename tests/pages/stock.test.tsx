import { ulid } from "ulid";
import { describe, expect, it } from "vitest";
import { dueList } from "../../app/server/day/due.server";
import { confirmRejudging } from "../../app/server/results/rejudge.server";
import { previewRejudging } from "../../app/server/results/rejudgeChanges.server";
import { runRejudging } from "../../app/server/results/rejudgeRun.server";
import { addLot, lotsOfCodes } from "../../app/server/stock/lots.server";
import { writeUses } from "../../app/server/stock/lotUses.server";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import { withKit } from "../../core/methods/kitted";
import { libraryMethod } from "../../core/simulation/runPlayer";
import { kitSchema } from "../../core/stock/kit";
import { wasteStreams } from "../../core/stock/wasteStreams";
import { Visitor } from "./pages";
import { runWith } from "./runWith";

// A database of one's own, not the demo: what ships is nobody's kit.
const hands = benchForEachTest("own");
const visitor = () => new Visitor(hands.bench);
const later = "2026-04-12T12:00:00.000Z";

const shelf = { received_on: "2026-01-01", expires_on: "2031-01-01", opened_on: "", place: "drawer 1" };
const tubes = {
  ...shelf,
  kind: "kit",
  name: "Nitrate tubes of ours",
  code: "NT-6",
  size: "20",
  portion: "1",
  unit: "tests",
  hazard: "harmful",
  kit_method: "nitrate-tube",
  kit_source: "leaflet, edition 2",
  kit_scale: "0, 1, 3, 6, 12, 20",
  kit_given_as: "NO3-N",
};

const register = (fields: Record<string, string | string[]>) => visitor().send("/stock/new", fields);
const idOf = async (code: string): Promise<string> =>
  (await hands.bench.db("lots").where({ code }).first("id")).id;

const run = (method: string, lots: Record<string, string>, size: number) =>
  runWith(hands.bench, method, lots, size);

describe("what stands on a bottle", () => {
  it("changes with a version that says what: a pictogram that was overlooked, another cupboard", async () => {
    await register(tubes);
    const id = await idOf("NT-6");
    await visitor().send(`/stock/${id}`, {
      do: "label",
      place: "cool room",
      hazard: ["corrosive", "harmful"],
    });
    const page = await visitor().open(`/stock/${id}`);
    expect(page.text).toContain(
      "stands cool room; hazards: corrosive: skin, eyes, metals, irritant or harmful",
    );
    expect(page.text).toContain("Corrosive: skin, eyes, metals");
    // The same again is no version; what is too long loses nothing.
    await visitor().send(`/stock/${id}`, {
      do: "label",
      place: "cool room",
      hazard: ["corrosive", "harmful"],
    });
    expect((await hands.bench.db("lots").where({ id }).first("version")).version).toBe(2);
    const long = await visitor().send(`/stock/${id}`, { do: "label", place: "x".repeat(61) });
    expect([long.status, long.text]).toEqual([422, expect.stringContaining("Keep it under 61 characters.")]);
  });
});

describe("a shelf with many lots of one kind", () => {
  it("shows the first twenty, what may be taken before the rest, and all on a page of their own", async () => {
    const { db, person } = hands.bench;
    const now = new Date().toISOString();
    await register({ ...tubes, code: "NT-10" });
    const [first] = await lotsOfCodes(db, ["NT-10"]);
    for (let n = 11; n < 33; n++) {
      const gone = n === 12 ? { on: now.slice(0, 10), stream: wasteStreams[0], reason: "spilt" } : null;
      if (first) await addLot(db, { ...first.lot, code: `NT-${n}`, discarded: gone }, person, now);
    }
    const some = await visitor().open("/stock");
    expect(some.text).toContain("All 23 lots of this kind");
    expect(some.text).toContain("Lot NT-13");
    // The one that was thrown away comes last.
    expect(some.text).not.toContain("Lot NT-12");
    const kind = await visitor().open("/stock?kind=kit");
    expect(kind.text).toContain("Lot NT-12");
    expect(kind.text).not.toContain("of this kind");
    expect(kind.text).toContain("Everything on the shelf");
    expect((await visitor().open("/stock?kind=nonsense")).text).toContain("All 23 lots of this kind");
  });
});

describe("what runs out before a delivery comes", () => {
  it("is to be ordered, by all bottles of its name and the days of the house rules", async () => {
    const { db } = hands.bench;
    await register({ ...tubes, size: "30" });
    const lot_id = await idOf("NT-6");
    const { work } = await run("nitrate-tube", { "lot-tube": "NT-6" }, 6);
    const now = new Date().toISOString();
    const daysAgo = (n: number) => new Date(Date.parse(now) - n * 86_400_000).toISOString();
    await writeUses(db, work, [{ lot_id, role: "material", slot: "tube", at: daysAgo(10), amount: 20 }]);
    const due = await dueList(db, now);
    expect(due.find((d) => d.title.startsWith("Order"))).toMatchObject({
      title: "Order or prepare: Nitrate tubes of ours",
      detail: expect.stringMatching(/^\d+ tests left, at this rate until /),
      href: `/stock/${lot_id}`,
    });
    // A second bottle that nobody opened yet is enough.
    await register({ ...tubes, code: "NT-7", size: "500" });
    expect((await dueList(db, now)).filter((d) => d.title.startsWith("Order"))).toEqual([]);
  });
});

describe("a kit with its own six steps", () => {
  it("is received, leads the run, is counted down and opened, and the result is sound", async () => {
    const { location } = await register(tubes);
    const id = await idOf("NT-6");
    expect(location).toBe(`/stock/${id}`);
    const start = await visitor().open("/runs/new/nitrate-tube");
    expect(start.html).toContain('value="NT-6"');
    expect(start.text).toContain("20 uses left. By leaflet, edition 2.");
    const { work, started, reading, findings } = await run("nitrate-tube", { "lot-tube": "nt-6" }, 6);
    expect(started.method.measure).toMatchObject({ scales: [{ steps: { length: 6 } }] });
    expect(started.kit).toEqual({ lot_id: id, code: "NT-6", source: "leaflet, edition 2", complete: true });
    expect(reading.verdict).toBe("sound");
    expect(findings).toEqual([]);
    const page = await visitor().open(`/runs/${work}`);
    expect(page.text).toContain("As the kit of lot NT-6 says: leaflet, edition 2.");
    expect(page.text).toContain("Gives scale.");
    const lot = await visitor().open(`/stock/${id}`);
    expect(lot.text).toContain("19 uses");
    expect(lot.text).toContain("0 · 1 · 3 · 6 · 12 · 20");
    expect(lot.text).toContain("Lasts at that rate until");
    expect(lot.text).toContain("opened for a test");
    expect((await visitor().open("/stock")).text).toContain("At this rate until");
  });

  it("is found by the code that was scanned, whatever stands on it", async () => {
    await register(tubes);
    const id = await idOf("NT-6");
    const { started } = await run("nitrate-tube", { "lot-tube": id }, 6);
    expect(started.lots).toMatchObject([{ code: "NT-6", lot_id: id, gives: ["scale"] }]);
    for (const code of ["nt-6", id])
      expect((await visitor().open(`/find?code=${code}`)).location).toBe(`/stock/${id}`);
  });

  it("that has everything in it stands for every material, and a test of it is one", async () => {
    const whole = {
      ...tubes,
      kit_method: "ammonia-salicylate",
      kit_scale: "",
      kit_given_as: "",
      code: "SAL-1",
    };
    await register({ ...whole, kit_low: "0.01", kit_high: "0.5" });
    const { findings } = await run(
      "ammonia-salicylate",
      { "lot-salicylate": "SAL-1", "lot-cyanurate": "SAL-1" },
      0.3,
    );
    expect(findings).toEqual([]);
    const { replicates } = libraryMethod("ammonia-salicylate");
    expect((await hands.bench.db("lots").where({ code: "SAL-1" }).first("used")).used).toBe(replicates);
    expect((await visitor().open("/runs/new/oxygen-burette")).html).not.toContain("SAL-1");
  });

  it("is missed by a run without one, which says what is missing", async () => {
    const { findings, reading } = await run("nitrate-tube", { "lot-tube": "bought yesterday" }, 2);
    expect(reading.verdict).toBe("qualified");
    expect(findings).toMatchObject([
      { rule: "invented-scale", sentence: "The scale is the demo's: enter your kit's." },
    ]);
  });

  it.each([
    [{ kit_scale: "0, 3, 1" }, "The steps of a scale rise."],
    [{ kit_scale: "some, more" }, "The steps of a scale are numbers."],
    [{ kit_source: "" }, "Say which leaflet its numbers are from."],
    [{ kit_method: "alchemy" }, "This method is not run here any more."],
    [{ size: "few" }, "“few” is not a number"],
    [{ portion: "30" }, "One use is not more than there is."],
    [{ name: "" }, "Give it the name on the bottle."],
  ])("is refused with %j, in words, and nothing is registered", async (change, sentence) => {
    const { status, text } = await register({ ...tubes, ...change });
    expect([status, text.includes(sentence)]).toEqual([422, true]);
    expect(await hands.bench.db("lots").where({ code: "NT-6" })).toEqual([]);
  });
});

describe("a titrant", () => {
  const titrant = {
    ...shelf,
    kind: "titrant",
    code: "TS-1",
    name: "Thiosulfate",
    serves: "Sodium thiosulfate 0.0250 N",
    strength: "0.0251",
    strength_u: "0.00005",
    strength_unit: "N",
    unit: "mL",
    size: "500",
    portion: "10",
  };
  it("gives its strength to the run, whatever was typed", async () => {
    await register(titrant);
    const start = await visitor().open("/runs/new/oxygen-burette");
    expect(start.text).toContain("As lot TS-1 says.");
    const { started, reading } = await run(
      "oxygen-burette",
      { "lot-thiosulfate": "TS-1", strength: "0.03" },
      8,
    );
    expect(started).toMatchObject({ strength: 0.0251, strength_uncertainty: 0.00005 });
    // 8.00 mL in 201 mL: V · N · 8000 / Vs, with one mL of each reagent displaced.
    const water = 201 * (298 / 300);
    expect(reading.value).toBeCloseTo((8 * 0.0251 * 8000) / water, 1);
  });
  it("is refused where the method reckons in another unit, and where it is not what is asked for", async () => {
    await register({ ...titrant, serves: "EDTA 0.01 M" });
    const sent = { work: ulid(), event: ulid(), site: hands.bench.site.id, sample: "BP-1" };
    const edta = await visitor().send("/runs/new/hardness-burette", { ...sent, "lot-edta": "TS-1" });
    expect(edta.text).toContain("Its strength is in N; this method reckons in mg/mL.");
    const starch = await visitor().send("/runs/new/oxygen-burette", { ...sent, "lot-starch": "TS-1" });
    expect(starch.text).toContain("On the shelf, TS-1 is Thiosulfate.");
  });
});

describe("a bottle that is withdrawn", () => {
  const reagent = (code: string) => ({
    ...shelf,
    kind: "reagent",
    code,
    name: "Starch",
    serves: "Starch indicator",
    unit: "mL",
  });
  const withdraw = (id: string) =>
    visitor().send(`/stock/${id}`, { do: "withdraw", reason: "mouldy", since: "2026-01-01" });
  const verdictOf = async (work: string) =>
    (await hands.bench.db("readings").where({ work_id: work }).first("verdict")).verdict;

  it("is shown with what it would change, holds exactly what rests on it, and what arrives late at once", async () => {
    const { db, person } = hands.bench;
    await register(reagent("ST-1"));
    await register(reagent("ST-2"));
    const [bad, good] = [await idOf("ST-1"), await idOf("ST-2")];
    const touched = await run("oxygen-burette", { "lot-starch": "ST-1" }, 8);
    const other = await run("oxygen-burette", { "lot-starch": "ST-2" }, 8);
    // Made from the bad one, through another.
    await register({ ...reagent("ST-3"), name: "Starch, made from it" });
    const child = await idOf("ST-3");
    const parent = { role: "parent" as const, slot: "dilute", amount: 10, at: later, into_lot_id: child };
    await writeUses(db, other.work, [
      { lot_id: good, role: "material", slot: "starch", amount: null, at: later },
      { lot_id: bad, ...parent },
    ]);
    const below = await run("oxygen-burette", { "lot-starch": "ST-3" }, 8);
    await withdraw(bad);
    const request = { kind: "lot" as const, subject_id: bad };
    const page = await visitor().open(`/stock/${bad}`);
    expect(page.text).toContain("On it rest ST-3");
    expect((await previewRejudging(db, request)).changed).toBe(2);
    await runRejudging(db, await confirmRejudging(db, request, "mouldy", person, later), later);
    expect(await verdictOf(touched.work)).toBe("held");
    expect(await verdictOf(below.work)).toBe("held");
    expect(await verdictOf(other.work)).toBe(other.reading.verdict);
    const { findings } = await db("readings").where({ work_id: below.work }).first("findings");
    expect(findings).toContain("Rests on lot ST-1: Withdrawn on");
    // One that was begun before, and is finished only now.
    const late = await run("oxygen-burette", { "lot-starch": "ST-3" }, 8);
    expect(late.reading.verdict).toBe("held");
    const refused = await visitor().send("/runs/new/oxygen-burette", {
      work: ulid(),
      event: ulid(),
      site: hands.bench.site.id,
      sample: "BP-1",
      "lot-starch": "ST-1",
    });
    expect(refused.text).toContain("Take another.");
  });

  it("is withdrawn with a reason, once, from a day that has come", async () => {
    await register(reagent("ST-1"));
    const id = await idOf("ST-1");
    const send = (more: object) => visitor().send(`/stock/${id}`, { do: "withdraw", ...more });
    expect((await send({ reason: "" })).text).toContain("Say why it is withdrawn.");
    expect((await send({ reason: "x", since: "2090-01-01" })).text).toContain("a day to come");
    await withdraw(id);
    expect((await withdraw(id)).text).toContain("already");
  });

  it("is thrown away into its container, and is not offered any more", async () => {
    await register(reagent("ST-1"));
    const id = await idOf("ST-1");
    const wrong = await visitor().send(`/stock/${id}`, { do: "discard", stream: "river" });
    expect([wrong.status, wrong.text.includes("into which container")]).toEqual([422, true]);
    const gone = await visitor().send(`/stock/${id}`, { do: "discard", stream: "general", reason: "cloudy" });
    expect(gone.text).toContain("labelled container for reacted samples");
    expect((await visitor().open("/runs/new/oxygen-burette")).html).not.toContain('value="ST-1"');
    expect((await visitor().open("/stock/labels")).text).not.toContain("ST-1");
    expect((await visitor().open(`/stock/labels?id=${id}`)).text).toContain("ST-1");
  });
});

describe("a run that is projected again", () => {
  it("takes from its bottles once", async () => {
    const { db } = hands.bench;
    await register(tubes);
    const id = await idOf("NT-6");
    const { work } = await run("nitrate-tube", { "lot-tube": "NT-6" }, 6);
    const used = async () => (await db("lots").where({ id }).first("used")).used;
    expect(await used()).toBe(1);
    const use = { lot_id: id, role: "material" as const, slot: "tube", amount: 1, at: later };
    await writeUses(db, work, [use]);
    expect(await used()).toBe(1);
    await writeUses(db, work, [{ ...use, amount: 20 }]);
    expect(await used()).toBe(20);
    expect((await db("lots").where({ id }).first("emptied")).emptied).toBe(1);
    await writeUses(db, work, []);
    expect([await used(), (await db("lots").where({ id }).first("emptied")).emptied]).toEqual([0, 0]);
  });
  it("is led by its kit even where the method has changed since", () => {
    const kit = kitSchema.parse({ method: "nitrate-tube", source: "x", scales: [] });
    expect(withKit(libraryMethod("nitrate-tube"), kit).ok).toBe(true);
  });
});
