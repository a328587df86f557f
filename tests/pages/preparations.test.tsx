import { ulid } from "ulid";
import { afterEach, describe, expect, it, vi } from "vitest";
import { postEvents, preparationEvents } from "../../app/server/bench/bench.server";
import { verifyJournal } from "../../app/server/bench/verifyJournal.server";
import { confirmRejudging, noteFailure } from "../../app/server/results/rejudge.server";
import { previewRejudging } from "../../app/server/results/rejudgeChanges.server";
import { runRejudging } from "../../app/server/results/rejudgeRun.server";
import * as runner from "../../app/server/results/rejudgeRunner.server";
import { lotsOfCodes } from "../../app/server/stock/lots.server";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import { calibratedPond, pondReading } from "../../app/server/testing/testBench";
import { isStandard } from "../../core/stock/lot";
import { beginPreparation, makeSolution, salt } from "./makeSolution";
import { Visitor } from "./pages";
import { runWith } from "./runWith";

const hands = benchForEachTest("own");
const visitor = () => new Visitor(hands.bench);
const idOf = async (code: string): Promise<string> =>
  (await hands.bench.db("lots").where({ code }).first("id")).id;

const hour = 3_600_000;

const begin = (recipe: string, fields: Record<string, string>) =>
  beginPreparation(hands.bench, recipe, fields);
const make = (recipe: string, from: Record<string, string>, code: string) =>
  makeSolution(hands.bench, recipe, from, code);

describe("a standard of one's own", () => {
  it("is made of a stock that was made of a salt, is offered to a meter, and can be traced to the salt", async () => {
    const { db } = hands.bench;
    await visitor().send("/stock/new", salt);
    const chosen = await visitor().open("/stock/prepare?recipe=nacl-stock");
    expect(chosen.html).toContain('value="NACL-1"');
    await make("nacl-stock", { "from-salt": "nacl-1" }, "STOCK-1");
    const work = await make("nacl-standard", { "from-stock": "STOCK-1" }, "NACL-100");
    const page = await visitor().open(`/stock/preparations/${work}`);
    expect(page.text).toContain("It is made, and stands there as NACL-100.");
    const standard = await visitor().open(`/stock/${await idOf("NACL-100")}`);
    expect(standard.text).toContain(
      "It rests on STOCK-1 Sodium chloride stock, 10 g/L NACL-1 Sodium chloride",
    );
    expect(standard.text).toMatch(/c = 10.000 mg\/L · 10\.000 mL 1000\.0 mL = 100\.00 mg\/L NaCl/);
    expect(standard.text).toContain("= 210.05 µS/cm");
    expect((await visitor().open(`/stock/${await idOf("NACL-1")}`)).text).toContain("On it rest STOCK-1");
    // Ten grams of salt at 99.8 % were weighed, and ten millilitres of the stock taken.
    expect((await db("lots").where({ code: "NACL-1" }).first("used")).used).toBeCloseTo(10 / 0.998, 6);
    expect((await db("lots").where({ code: "STOCK-1" }).first("used")).used).toBe(10);
    const start = await visitor().open(`/meters/${hands.bench.pond.id}/calibrate`);
    expect(start.html).toContain("NACL-100");
    expect(await verifyJournal(db)).toBeNull();
    await visitor().send(`/stock/${await idOf("NACL-1")}`, {
      do: "withdraw",
      reason: "damp",
      since: "2026-01-01",
    });
    const preview = await previewRejudging(db, { kind: "lot", subject_id: await idOf("NACL-1") });
    expect(preview.readings).toBe(0);
    const again = await begin("nacl-stock", { "from-salt": "NACL-1" });
    expect([again.status, again.text.includes("Take another.")]).toEqual([422, true]);
  });

  it("calibrates a meter together with a zero solution of one's own, and what is read names both down to their salts", async () => {
    const { db } = hands.bench;
    await visitor().send("/stock/new", salt);
    await visitor().send("/stock/new", { ...salt, code: "SUL-1", name: "Sodium sulfite", formula: "Na2SO3" });
    await make("nacl-stock", { "from-salt": "NACL-1" }, "STOCK-1");
    await make("nacl-standard", { "from-stock": "STOCK-1" }, "NACL-100");
    await make("zero-oxygen", { "from-sulfite": "SUL-1" }, "ZERO-1");
    const stored = async (code: string) => {
      const [one] = await lotsOfCodes(db, [code]);
      if (!one || !isStandard(one.lot)) throw new Error(`${code} is no standard.`);
      return { ...one, lot: one.lot };
    };
    const own = { ...hands.bench, standard: await stored("NACL-100"), zero: await stored("ZERO-1") };
    const now = (seconds: number) => new Date(Date.now() + 1000 * seconds).toISOString();
    // As the meter shows it: the value of the standard at 25 °C.
    const calibration = await calibratedPond(own, now(0), 210);
    const report = await visitor().open(`/calibrations/${calibration}`);
    expect(report.text).toContain("NACL-100");
    expect(report.text).toContain("ZERO-1");
    const reading = await pondReading(own, { conductivity: 320, ph: -40, oxygen: 80 }, now(60));
    const page = await visitor().open(`/readings/${reading}?of=conductivity`);
    expect(page.text).toContain(
      "NACL-100 rests on STOCK-1 Sodium chloride stock, 10 g/L NACL-1 Sodium chloride",
    );
    expect((await visitor().open(`/readings/${reading}?of=oxygen`)).text).toContain(
      "ZERO-1 rests on SUL-1 Sodium sulfite",
    );
    const subject_id = await idOf("NACL-1");
    await visitor().send(`/stock/${subject_id}`, { do: "withdraw", reason: "damp", since: "2026-01-01" });
    const job = await confirmRejudging(db, { kind: "lot", subject_id }, "damp", hands.bench.person, now(120));
    await runRejudging(db, job, now(120));
    const doubted = await db("readings")
      .where("findings", "like", "%Rests on lot NACL-1%")
      .select("parameter");
    expect(doubted).toEqual([{ parameter: "conductivity" }]);
  });

  it("is on the shelf once, however often its end arrives, and under a free code", async () => {
    const { db, person } = hands.bench;
    await visitor().send("/stock/new", salt);
    const work = await make("nacl-stock", { "from-salt": "NACL-1" }, "STOCK-1");
    const events = await preparationEvents(db, work);
    await postEvents(db, person, work, events, new Date().toISOString());
    await make("nacl-stock", { "from-salt": "NACL-1" }, "STOCK-1");
    expect(
      (await db("lots").whereNotNull("made_in").orderBy("code").select("code")).map((l) => l.code),
    ).toEqual(["STOCK-1", "STOCK-1-2"]);
    expect(await db("lot_uses").where({ work_id: work })).toHaveLength(1);
  });
});

describe("the start of a preparation", () => {
  it.each([
    ["nacl-stock", { volume_ml: "much", "from-salt": "N" }, "“much” is not a number"],
    ["nacl-stock", { volume_ml: "0.2", "from-salt": "N" }, "At least 1 mL."],
    ["nacl-stock", { "from-salt": " " }, "Say which bottle it is taken from."],
    ["nacl-stock", { "from-salt": "x".repeat(25) }, "Keep the lot's code under 25 characters."],
    ["nacl-standard", { "from-stock": "bought" }, "prepare it first."],
  ])("of %s is refused with %j, in words", async (recipe, fields, sentence) => {
    const answer = await begin(recipe, fields as Record<string, string>);
    expect([answer.status, answer.text.includes(sentence)]).toEqual([422, true]);
    expect(await hands.bench.db("bench_work")).toEqual([]);
  });
  it("takes a bottle that nobody registered for what is weighed, but not one that is something else", async () => {
    expect((await begin("electrolyte", { "from-salt": "the blue jar" })).location).toContain(
      "/stock/preparations/",
    );
    await visitor().send("/stock/new", salt);
    const other = await begin("electrolyte", { "from-salt": "NACL-1" });
    expect(other.text).toContain("On the shelf, NACL-1 is Sodium chloride. Look at the bottle again.");
    const rail = await visitor().open("/");
    expect(rail.text).toContain("Making Membrane electrolyte, 75 g/L potassium chloride");
  });
  it("is there for every recipe, with what to be careful of", async () => {
    const all = await visitor().open("/stock/prepare");
    expect(all.text).toContain("Zero-oxygen solution");
    expect((await visitor().open("/stock/prepare?recipe=silver-nitrate")).text).toContain("It stains skin");
    expect((await visitor().send("/stock/prepare?recipe=gold", {})).status).toBe(404);
  });
});

describe("a titrant that was made", () => {
  afterEach(() => {
    vi.useRealTimers();
    vi.restoreAllMocks();
  });
  const chemical = (code: string, name: string, formula: string) =>
    visitor().send("/stock/new", { ...salt, code, name, formula });
  const atStandard = (id: string, fields: Record<string, string> = {}) =>
    visitor().send(`/stock/${id}/standardise`, {
      work: ulid(),
      event: ulid(),
      standard: "IO-1",
      portion_ml: "20",
      pipette_within_ml: "0,03",
      burette_within_ml: "0.03",
      place: "bench",
      ...fields,
    });

  /** Titrates portions of a standardisation that was begun, and ends it. */
  async function titrated(work: string, volumes: readonly number[], now = new Date()) {
    const at = (i: number) => new Date(now.getTime() + i).toISOString();
    const events = [
      ...volumes.map((end_ml) => ({ type: "titrated", what: "portion", start_ml: 0, end_ml })),
      { type: "finished" },
    ].map((event, i) => ({ ...event, id: ulid(now.getTime() + i), at: at(i) }));
    return postEvents(hands.bench.db, hands.bench.person, work, events, at(events.length));
  }

  async function titrant() {
    await chemical("THIO", "Thiosulfate", "Na2S2O3·5H2O");
    await chemical("KIO3", "Potassium iodate", "KIO3");
    await make("thiosulfate", { "from-salt": "THIO" }, "TS-1");
    return idOf("TS-1");
  }

  it("is standardised against what was prepared, and what is titrated with it rests on both bottles of salt", async () => {
    const { db } = hands.bench;
    const id = await titrant();
    const before = await runWith(hands.bench, "oxygen-burette", { "lot-thiosulfate": "TS-1" }, 8);
    const without = await visitor().open(`/stock/${id}/standardise`);
    expect(without.text).toContain("No Iodate standard 0.0250 N stands on the shelf.");
    await make("iodate-standard", { "from-salt": "KIO3" }, "IO-1");
    expect((await visitor().open(`/stock/${id}/standardise`)).html).toContain('value="IO-1"');
    const { location } = await atStandard(id);
    const work = location?.split("/").at(-1) ?? "";
    expect((await visitor().open("/")).text).toContain(
      "Standardising Sodium thiosulfate, about 0.025 N TS-1",
    );
    // A run takes minutes: what follows it happens later.
    const early = await titrated(work, [20.2, 20.24], new Date(Date.now() + hour));
    expect(early.refused?.code).toBe("not-agreed");
    expect((await visitor().open(`/stock/standardisations/${work}`)).text).toContain(
      "Portion 3: 20.00 mL of IO-1",
    );
    await titrated(work, [20.22], new Date(Date.now() + hour + 1000));
    const page = await visitor().open(`/stock/standardisations/${work}`);
    expect(page.text).toMatch(/TS-1 is 0\.0247\d+ ± 0\.000\d+ N/);
    const lot = await visitor().open(`/stock/${id}`);
    expect(lot.text).toMatch(/standardised against IO-1: 0\.0247\d+ ± 0\.000\d+ N/);
    expect(lot.text).toContain(
      "IO-1 Iodate standard, 0.025 N, standardised against it KIO3 Potassium iodate",
    );
    expect(Number((await db("lots").where({ code: "IO-1" }).first("used")).used)).toBe(60);
    expect(Number((await db("lots").where({ id }).first("used")).used)).toBeGreaterThan(60.6);

    const after = await runWith(hands.bench, "oxygen-burette", { "lot-thiosulfate": "TS-1" }, 8, 2 * hour);
    // 8 mL in 201 of 300 mL, less what two reagents displace.
    const oxygen = (normality: number) => (8 * normality * 8000) / (201 * (298 / 300));
    expect(after.reading.value).toBeCloseTo(oxygen(0.02473), 1);
    // From the result down to what was bought, and only by the strength that was in force then.
    const down =
      "TS-1 rests on IO-1 Iodate standard, 0.025 N, standardised against it KIO3 Potassium iodate THIO Thiosulfate";
    for (const page of [`/runs/${after.work}`, `/ledger?reading=${after.reading.id}`])
      expect((await visitor().open(page)).text).toContain(down);
    expect((await visitor().open(`/runs/${before.work}`)).text).toContain("TS-1 rests on THIO Thiosulfate");
    expect((await visitor().open(`/runs/${after.work}`)).text).toMatch(
      /Gives strength 0\.0247\d+ ± 0\.000\d+ N/,
    );

    // The iodate is bad: what was titrated before it gave the titrant its strength does not rest on it.
    const changedBy = async (code: string) => {
      const subject_id = await idOf(code);
      await visitor().send(`/stock/${subject_id}`, { do: "withdraw", reason: "damp", since: "2026-01-01" });
      const { examples } = await previewRejudging(db, { kind: "lot", subject_id });
      return examples.map((e) => e.id.slice(0, 26)).sort();
    };
    expect(await changedBy("KIO3")).toEqual([after.work]);
    const late = await runWith(hands.bench, "oxygen-burette", { "lot-thiosulfate": "TS-1" }, 8, 3 * hour);
    expect(JSON.stringify(late.findings)).toContain("Rests on lot KIO3");
    // The late one is held already: nothing changes for it.
    expect(await changedBy("THIO")).toEqual([before.work, after.work].sort());
    expect(await verifyJournal(db)).toBeNull();
  });

  it("loses a strength that was found with the wrong pipette, and what was titrated with it says so", async () => {
    const { db } = hands.bench;
    const begun: string[] = [];
    vi.spyOn(runner, "startRejudging").mockImplementation((id) => void begun.push(id));
    const id = await titrant();
    await make("iodate-standard", { "from-salt": "KIO3" }, "IO-1");
    const { location } = await atStandard(id);
    const page = `/stock/standardisations/${location?.split("/").at(-1)}`;
    await titrated(page.split("/").at(-1) ?? "", [10.06, 10.05, 10.07]);
    expect((await visitor().open(page)).text).toContain("This standardisation was made wrong");
    const { work } = await runWith(hands.bench, "oxygen-burette", { "lot-thiosulfate": "TS-1" }, 8, 2 * hour);
    const without = await visitor().send(page, { reason: " " });
    expect([without.status, without.text.includes("Say what was wrong with it.")]).toEqual([422, true]);
    const long = await visitor().send(page, { reason: "x".repeat(201) });
    expect([long.status, long.text.includes("under 201 characters")]).toEqual([422, true]);
    vi.useFakeTimers({ now: Date.now() + 3 * hour, toFake: ["Date"] });
    await visitor().send(page, { reason: "It was the pipette of 10 mL." });
    expect(begun).toHaveLength(1);
    const { text } = await visitor().open(page);
    expect(text).toContain("Taken out. What it found does not count.");
    expect(text).toMatch(/Noor, .*: It was the pipette of 10 mL\./);
    expect(text).not.toContain("was made wrong");
    await visitor().send(page, { reason: "It was the pipette of 10 mL." });
    expect(begun).toHaveLength(1);
    await noteFailure(db, begun[0] ?? "", "The disk was full.");
    expect((await visitor().open(page)).text).toContain("not all have followed The disk was full. Try again");
    await visitor().send(page, { do: "rejudge" });
    expect(begun).toEqual([begun[0], begun[0]]);
    await runRejudging(db, begun[0] ?? "", new Date().toISOString());
    expect((await visitor().open(`/runs/${work}`)).text).toMatch(
      /with which this was reckoned, was taken out: It was the pipette of 10 mL. The result is \d+\.\d % too high/,
    );
    expect((await visitor().open(`/stock/${id}`)).text).toContain(
      "was taken out: It was the pipette of 10 mL.",
    );
    expect((await visitor().send("/stock/standardisations/none", { reason: "x" })).status).toBe(404);
  });

  it("keeps the strength of the later standardisation, whichever arrives last, and is given it once", async () => {
    const { db, person } = hands.bench;
    const id = await titrant();
    await make("iodate-standard", { "from-salt": "KIO3" }, "IO-1");
    const begun = async () => (await atStandard(id)).location?.split("/").at(-1) ?? "";
    const [first, second] = [await begun(), await begun()];
    await titrated(second, [20, 20, 20], new Date(Date.now() + 2000));
    const end = (await db("bench_work").where({ id: second }).first("finished_at")).finished_at;
    await titrated(first, [25, 25, 25], new Date(Date.parse(end) - 1000));
    const strength = async () =>
      JSON.parse((await db("lots").where({ id }).first("document")).document).strength;
    expect((await strength()).value).toBeCloseTo(0.025, 4);
    const { version } = await db("lots").where({ id }).first("version");
    const note = { type: "noted", text: "warm day", id: ulid(), at: new Date().toISOString() };
    await postEvents(db, person, second, [note], note.at);
    expect((await db("lots").where({ id }).first("version")).version).toBe(version);
    // Once the standard of the first is in doubt, the second has long taken its place.
    expect(await db("lot_uses").where({ into_lot_id: id, role: "standardisation" })).toHaveLength(2);
  });

  it.each([
    [{ standard: "" }, "Say which bottle of the standard"],
    [{ standard: "IO-9" }, "No bottle IO-9 is on the shelf"],
    [{ standard: "THIO" }, "THIO is Thiosulfate; wanted is Iodate standard 0.0250 N"],
    [{ portion_ml: "twenty" }, "is not a number"],
    [{ portion_ml: "0.1" }, "At least 0.5 mL."],
    [{ burette_within_ml: "-1" }, "A tolerance is never negative."],
    [{ place: "boat" }, "Say where it is done."],
  ])("is not standardised with %j", async (fields, sentence) => {
    const id = await titrant();
    const answer = await atStandard(id, fields as unknown as Record<string, string>);
    expect([answer.status, answer.text.includes(sentence)]).toEqual([422, true]);
    expect((await atStandard(await idOf("THIO"))).status).toBe(409);
    expect((await atStandard("nothing")).status).toBe(404);
  });

  it("of one's own, which no guide knows, is held against any standard of the same unit", async () => {
    const bottle = {
      ...salt,
      size: "500",
      unit: "mL",
      formula: "",
      purity_percent: "",
      strength_u: "0.0001",
    };
    const own = { ...bottle, kind: "titrant", serves: "Permanganate", strength: "0.02", strength_unit: "N" };
    await visitor().send("/stock/new", { ...own, code: "PM-1", name: "Permanganate" });
    const standard = { ...bottle, kind: "reagent", strength: "0.0200", strength_unit: "N" };
    await visitor().send("/stock/new", { ...standard, code: "OX-1", name: "Oxalate 0.02 N" });
    const id = await idOf("PM-1");
    const { location } = await atStandard(id, { standard: "ox-1" });
    const work = location?.split("/").at(-1) ?? "";
    await titrated(work, [20, 20.02, 20]);
    // An empty bottle is not held against anything, also when its code is typed.
    await visitor().send(`/stock/${await idOf("OX-1")}`, { do: "discard", stream: "general" });
    const gone = await atStandard(id, { standard: "OX-1" });
    expect([gone.status, gone.text.includes("OX-1 was thrown away on")]).toEqual([422, true]);
    expect((await visitor().open(`/stock/${id}`)).text).toContain("standardised against OX-1");
  });
});
