import { monotonicFactory } from "ulid";
import { describe, expect, it } from "vitest";
import { verifyJournal } from "../../app/server/bench/verifyJournal.server";
import { dueList } from "../../app/server/day/due.server";
import { analysisReadingsOfWork } from "../../app/server/results/readings.server";
import {
  findSample,
  sampleCalled,
  sampleIdCalled,
  samplesPage,
  worksOfSample,
} from "../../app/server/samples/samples.server";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import { postPlayed } from "../../app/server/testing/benchRun";
import { beginReading, calibratedPh, phReading } from "../../app/server/testing/testBench";
import { libraryMethod, RunPlayer } from "../../core/simulation/runPlayer";
import { ago, bottleForm, receivedBottle } from "./bottleAtHand";
import { type Fields, Visitor } from "./pages";

/** Ids that rise as things happen, as a browser makes them. */
const ulid = monotonicFactory();
const hands = benchForEachTest();
const visitor = () => new Visitor(hands.bench);
const bottle = (more: Fields = {}) => bottleForm(hands.bench, more);
const received = (more: Fields = {}) => receivedBottle(hands.bench, more);

describe("receiving a sample", () => {
  it("keeps it once, with how it came, and shows what is wanted of it and until when", async () => {
    const form = await received({ methods: ["hardness-digits", "oxygen-drops"] });
    expect((await visitor().send("/samples/new", form)).location).toBe(`/samples/${form.id}`);
    expect((await samplesPage(hands.bench.db, { which: "all" })).rows).toHaveLength(1);
    const { text } = await visitor().open(`/samples/${form.id}`);
    for (const words of ["CP-A1", "The lifeguard", "5.1 °C", "20 h", "left", "Begin", "Nothing to object to"])
      expect(text).toContain(words);
    expect((await visitor().open("/samples")).text).toContain("2 tests");
  });

  it.each([
    [{ code: "" }, "Give the code on the bottle."],
    [{ collected: "" }, "Say when the water was taken"],
    [{ from: "" }, "Say who brought it."],
    [{ temperature_c: "cold" }, "“cold” is not a number"],
    [{ temperature_c: "70" }, "No cooler is that warm."],
    [{ site: "gone" }, "This site is gone."],
    [{ collected: ago(-1) }, "Water cannot be taken in the future."],
  ])("%j is refused with a sentence at its field", async (wrong, sentence) => {
    const { status, text } = await visitor().send("/samples/new", bottle(wrong as Record<string, string>));
    expect(status).toBe(422);
    expect(text).toContain(sentence);
    expect(await hands.bench.db("samples")).toHaveLength(0);
  });

  it("refuses a second bottle with the same code, in whatever letters", async () => {
    await received();
    const again = await visitor().send("/samples/new", bottle({ code: "cp-a1" }));
    expect([again.status, again.text.includes("Another sample bears this code.")]).toEqual([422, true]);
  });

  it("says what a warm cooler means, and what it means that nobody measured", async () => {
    const warm = await received({ temperature_c: "8.5" });
    expect((await visitor().open(`/samples/${warm.id}`)).text).toContain("It was at 8.5 °C");
    const unknown = await received({ code: "B", temperature_c: "" });
    expect((await visitor().open(`/samples/${unknown.id}`)).text).toContain("Nobody measured how warm");
    const pair = await received({ code: "C", type: "oxygen-pair", temperature_c: "" });
    expect((await findSample(hands.bench.db, pair.id))?.verdict).toBe("sound");
  });
});

describe("a code that is scanned or typed", () => {
  it("opens its sample, by id and by label, and says when no sample bears it", async () => {
    const { id } = await received();
    for (const code of [id, id.toLowerCase(), "CP-A1", " cp-a1 "])
      expect((await visitor().ask(`/find?code=${encodeURIComponent(code)}`)).headers.get("Location")).toBe(
        `/samples/${id}`,
      );
    const unknown = await visitor().ask("/find?code=ZZ-9");
    const to = unknown.headers.get("Location") ?? "";
    expect((await visitor().open(to)).text).toContain("No sample bears the code “ZZ-9”.");
  });

  it("stands on its label, with a square that holds the id", async () => {
    const { id } = await received({ methods: "hardness-digits" });
    const { text, html } = await visitor().open(`/samples/labels?id=${id}`);
    for (const words of ["CP-A1", "General, nothing added", libraryMethod("hardness-digits").name, "N"])
      expect(text).toContain(words);
    expect(html).toContain("<svg");
    expect((await visitor().open("/samples/labels")).text).toContain("No sample was chosen.");
  });

  it("says on its label what went in, not what was to go in", async () => {
    const { id } = await received({ type: "oxygen-pair", temperature_c: "" });
    const label = async (fixed_at: string | null) => {
      const of = hands.bench.db("samples").where({ id });
      const { document } = await of.clone().first("document");
      const bottle = { fixed_at, filtered: null };
      await of.update({ document: JSON.stringify({ ...JSON.parse(document), bottle }) });
      return (await visitor().open(`/samples/labels?id=${id}`)).text;
    };
    expect(await label(null)).not.toContain("iodide-azide");
    expect(await label("2026-04-12T10:00:00.000Z")).toContain("iodide-azide");
  });
});

describe("the tests that a sample waits for", () => {
  const method = libraryMethod("oxygen-drops");

  /** Runs the method on a sample by its code, from a moment on. */
  async function tested(code: string, from: string, collected: string): Promise<string> {
    const work = ulid(Date.parse(from));
    const form = {
      work,
      event: ulid(),
      site: hands.bench.site.id,
      sample: code,
      collected,
      temperature: "20",
      dilution: "1",
    };
    const started = await visitor().send(`/runs/new/${method.id}`, form);
    expect(started.location).toBe(`/runs/${work}`);
    const begun = (await hands.bench.db("bench_work").where({ id: work }).first()).started_at;
    const played = new RunPlayer(method, {}, Date.parse(begun)).play(8);
    const end = played.events.at(-1)?.at ?? begun;
    await postPlayed(hands.bench, work, played.events, end);
    return work;
  }

  it("are on the rail until they are done, and then the sample waits no more", async () => {
    const { id } = await received({ type: "oxygen-pair", methods: method.id });
    const due = async () =>
      (await dueList(hands.bench.db, ago(0))).filter((d) => d.href === `/samples/${id}`);
    expect((await due()).map((d) => d.title)).toEqual(["CP-A1"]);
    const work = await tested("cp-a1", ago(0), ago(3));
    expect(await due()).toEqual([]);
    const [reading] = await analysisReadingsOfWork(hands.bench.db, work);
    expect(reading?.sample_id).toBe(id);
    expect(reading?.findings.find((f) => f.rule === "bottle-kept")?.severity).toBe("ok");
    const { text } = await visitor().open(`/samples/${id}`);
    expect(text).toContain("done");
    expect(text).toContain(reading?.analyte ?? "?");
  });

  it("count for the sample also when the result was there before the sample was known", async () => {
    const work = await tested("LATE-1", ago(0), ago(1));
    const before = (await analysisReadingsOfWork(hands.bench.db, work))[0];
    expect(before?.sample_id).toBeNull();
    const { id } = await received({ code: "LATE-1", type: "oxygen-pair", collected: ago(20) });
    const after = (await analysisReadingsOfWork(hands.bench.db, work))[0];
    expect(after?.sample_id).toBe(id);
    // Filled twenty hours ago, and it keeps for eight.
    expect(after?.findings.find((f) => f.rule === "bottle-kept")?.severity).toBe("qualify");
    expect(await verifyJournal(hands.bench.db)).toBeNull();
  });

  it("count for the sample also when the run was begun before it was known, and ended after", async () => {
    const work = ulid();
    const form = {
      work,
      event: ulid(),
      site: hands.bench.site.id,
      sample: "LATE-2",
      collected: ago(1),
      temperature: "20",
      dilution: "1",
    };
    await visitor().send(`/runs/new/${method.id}`, form);
    const begun = (await hands.bench.db("bench_work").where({ id: work }).first()).started_at;
    const { id } = await received({
      code: "LATE-2",
      type: "oxygen-pair",
      collected: ago(1),
      methods: method.id,
    });
    const played = new RunPlayer(method, {}, Date.parse(begun)).play(8);
    await postPlayed(hands.bench, work, played.events, played.events.at(-1)?.at ?? begun);
    const [reading] = await analysisReadingsOfWork(hands.bench.db, work);
    expect(reading?.sample_id).toBe(id);
    expect(reading?.findings.find((f) => f.rule === "bottle-kept")?.severity).toBe("ok");
    expect((await findSample(hands.bench.db, id))?.waits_until).toBeNull();
  });

  it("are meant by a name only where its water is from, and once it was taken", async () => {
    const { id, site } = await received({ collected: ago(2) });
    const meant = (name: string, where: string, hours: number) =>
      sampleIdCalled(hands.bench.db, name, where, { started_at: ago(hours), finished_at: ago(hours) });
    expect(await meant(" cp-a1 ", site, 1)).toBe(id);
    expect(await meant("CP-A1", site, 3)).toBeNull();
    expect(await meant("CP-A1", "elsewhere", 1)).toBeNull();
    expect(await meant("", site, 1)).toBeNull();
  });

  it("say before anything is measured that the water has stood too long for them", async () => {
    const { code, site } = await received({ collected: ago(2) });
    const begin = (id: string, sample = code) =>
      visitor().open(`/runs/new/${id}?site=${site}&sample=${sample}`);
    expect((await begin("ph-strip")).text).toMatch(/CP-A1 was filled .* For this test it keeps 15 min/);
    expect((await begin("ph-strip", "another")).text).not.toContain("was filled");
    expect((await begin("phosphate-photometer")).text).not.toContain("was filled");
    const { bench } = hands;
    await calibratedPh(bench, ago(3));
    const waited = await visitor().open(`/readings/${await beginReading(bench, code, ago(1))}`);
    expect(waited.text).toContain("For pH it keeps 15 min. The result will say that it waited longer.");
    const fresh = await visitor().open(`/readings/${await beginReading(bench, "another", ago(1))}`);
    expect(fresh.text).not.toContain("waited longer");
  });

  it("are those of the bottle that a result turns out to be of, once its record says so", async () => {
    const { bench } = hands;
    const [wrong, right] = [await received(), await received({ code: "CP-B2" })];
    await calibratedPh(bench, ago(3));
    const id = `${await phReading(bench, -20, ago(2.5), wrong.code)}-ph`;
    const work = id.replace("-ph", "");
    const worksOf = async ({ id }: { id: string }) => (await worksOfSample(bench.db, id)).map((w) => w.id);
    expect(await worksOf(wrong)).toEqual([work]);
    const record = await visitor().open(`/records/${id}`);
    expect(record.text).toContain("Amend it");
    const amendment = { what: "sample", text: "cp-b2", reason: "Two labels changed places.", judgement: "1" };
    expect((await visitor().send(`/records/${id}`, amendment)).location).toBe(`/records/${id}`);
    expect([await worksOf(wrong), await worksOf(right)]).toEqual([[], [work]]);
    expect((await visitor().open(`/samples/${right.id}`)).html).toContain(`/readings/${work}`);
    expect(await verifyJournal(bench.db)).toBeNull();
  });

  it("can be added later, once each, and end when it is poured away", async () => {
    const { id } = await received();
    const want = { do: "want", methods: [method.id, method.id] };
    await visitor().send(`/samples/${id}`, want);
    await visitor().send(`/samples/${id}`, want);
    expect((await findSample(hands.bench.db, id))?.wanted).toHaveLength(1);
    await visitor().send(`/samples/${id}`, { do: "discard" });
    expect(await findSample(hands.bench.db, id)).toMatchObject({ status: "discarded", waits_until: null });
    expect((await visitor().open(`/samples/${id}`)).text).toContain("It was poured away.");
    expect((await visitor().open("/samples")).text).toContain("No sample waits for a test.");
  });
});

describe("the register", () => {
  it("turns its pages by place: newest first, and the most urgent first", async () => {
    for (let i = 0; i < 45; i++)
      await received({ code: `S-${i}`, collected: ago(1 + i / 10), methods: "hardness-digits" });
    const { db } = hands.bench;
    const first = await samplesPage(db, { which: "all" });
    const second = await samplesPage(db, { which: "all", after: first.next ?? "" });
    expect([first.rows.length, second.rows.length, second.next]).toEqual([40, 5, null]);
    expect([first.rows[0]?.code, second.rows.at(-1)?.code]).toEqual(["S-0", "S-44"]);
    expect((await samplesPage(db, { which: "waiting" })).rows[0]?.code).toBe("S-44");
    expect((await sampleCalled(db, "s-7"))?.code).toBe("S-7");
    expect((await samplesPage(db, { which: "all", site: "elsewhere" })).rows).toEqual([]);
  });
});
