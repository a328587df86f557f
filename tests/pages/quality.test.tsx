import { ulid } from "ulid";
import { describe, expect, it } from "vitest";
import { openActions } from "../../app/server/quality/actions.server";
import { owedNow, pairsLately } from "../../app/server/quality/overview.server";
import { changeRules, rulesInForce } from "../../app/server/rules/rules.server";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import { openTestRun, postPlayed } from "../../app/server/testing/benchRun";
import { partsOfPdf, textOfPdf } from "../../app/server/testing/pdfText";
import { calibratedPh } from "../../app/server/testing/testBench";
import type { Subject } from "../../core/bench/subject";
import { libraryMethod, RunPlayer } from "../../core/simulation/runPlayer";
import { middayZone } from "./middayZone";
import { Visitor } from "./pages";

const hands = benchForEachTest();
const visitor = () => new Visitor(hands.bench);
/** So many minutes before a moment that lies in the middle of a day. */
const noon = Date.parse(`${new Date(Date.now() - 86_400_000).toISOString().slice(0, 10)}T12:00:00.000Z`);
const minutes = (n: number) => new Date(noon - n * 60_000).toISOString();

/** A phosphate run that began so many minutes ago; the id of its result. */
async function run(
  size: number,
  ago: number,
  subject: Subject = { kind: "sample" },
  at = minutes(ago),
): Promise<string> {
  const method = libraryMethod("phosphate-photometer");
  const work = ulid();
  await openTestRun(hands.bench, method, at, { work, subject });
  const played = new RunPlayer(method, { subject }, Date.parse(at)).play(size);
  await postPlayed(hands.bench, work, played.events, at);
  return `${work}-phosphate`;
}
const control: Subject = { kind: "control", code: "CS-1", lot_id: null, expected: 1, uncertainty: null };
const blank: Subject = { kind: "blank", of: "reagent" };
const chartAt =
  "/quality/chart?code=CS-1&parameter=phosphate&analyte=Phosphate+as+PO4&by=phosphate-photometer";

describe("the page of checks", () => {
  it("says what to do first where nothing was checked", async () => {
    const { text } = await visitor().open("/quality");
    expect(text).toContain("Nothing is out.");
    expect(text).toContain("choose “Control sample” for what is in the vessel");
  });

  it("shows what is out, asks for its cause in words, and frees the batch by it", async () => {
    const sample = await run(0.8, 90);
    await run(0.3, 60, blank);
    const [action] = await openActions(hands.bench.db);
    const page = await visitor().open("/quality");
    expect((await visitor().open("/stock")).text).toContain("Find the cause: Phosphate as PO4");
    expect(page.text).toContain("Blank: Phosphate as PO4 0.30 mg/L");
    expect(page.text).toContain("Reagent blank is high");
    const send = (fields: Record<string, string>) =>
      visitor().send("/quality", { action: action?.id ?? "", cause: "soap", done: "rinsed", ...fields });
    const silent = await send({ cause: " " });
    expect([silent.status, silent.text.includes("Say what the cause was.")]).toEqual([422, true]);
    expect((await send({ done: "" })).text).toContain("Say what was done about it.");
    expect((await send({ cause: "x".repeat(301) })).text).toContain("Keep it under 301 characters.");
    expect((await send({})).status).toBe(200);
    const after = await visitor().open("/quality");
    expect(after.text).toContain("Nothing is out.");
    expect(after.text).toContain("soap rinsed Noor");
    expect((await visitor().open(`/ledger?reading=${sample}`)).text).toContain(
      "The blank of its batch was out: soap.",
    );
    // Nobody is told of what is gone as if it were there.
    expect((await send({ action: ulid() })).status).toBe(422);
  });

  it("asks after the newest of many that are out, and after all of them where somebody wants to", async () => {
    const id = await run(0.3, 60, blank);
    const { db } = hands.bench;
    const high = await db("readings").where({ id }).first();
    for (let i = 0; i < 24; i++) {
      const again = { ...high, id: `${id}-${i}`, parameter: `p${i}` };
      await db("readings").insert(again);
      await db("quality_actions").insert({ id: ulid(), reading_id: again.id, opened_at: minutes(59 - i) });
    }
    const causes = (text: string) => text.match(/The samples of its batch are held until/g)?.length;
    const page = await visitor().open("/quality");
    expect(causes(page.text)).toBe(20);
    expect(page.text).toContain("These are the newest. All 25 checks that are out .");
    expect(causes((await visitor().open("/quality?out=all")).text)).toBe(25);
    expect((await visitor().open("/stock")).text).toContain("Find the cause of 25 checks that are out");
  });

  it("says what the batches of today are owed, and where it begins", async () => {
    const { db, person } = hands.bench;
    const { rules } = await rulesInForce(db);
    const owed = { ...rules.quality, blank: "photometers" as const, control: "every" as const };
    const asked = { ...rules, zone: middayZone(), quality: owed };
    await changeRules(db, 1, asked, "asked for", person, minutes(200));
    const now = new Date().toISOString();
    await run(0.8, 0, { kind: "sample" }, now);
    const { html, text } = await visitor().open("/quality");
    expect(text).toContain("Control sample for Phosphate as PO4");
    expect(html).toContain("/runs/new/phosphate-photometer?of=blank");
    // The rail of every page says so too.
    expect((await visitor().open("/stock")).text).toContain("Blank: Phosphate as PO4");
    await run(0, 0, blank, now);
    expect((await visitor().open("/quality")).html).not.toContain("of=blank");
  });
});

describe("what is owed", () => {
  /** The house owes a blank to every method and meter, and again after so many samples. */
  async function owing(every: number): Promise<void> {
    const { db, person } = hands.bench;
    const { version, rules } = await rulesInForce(db);
    const quality = { ...rules.quality, blank: "every" as const, every };
    await changeRules(db, version, { ...rules, quality }, "owed", person, new Date().toISOString());
  }
  const started = () => visitor().open("/runs/new/phosphate-photometer");

  it("is said before the first sample and one tap away; a blank of today settles it until so many samples went by", async () => {
    await owing(2);
    const before = await started();
    expect(before.text).toContain("No blank was measured with it today");
    expect(before.html).toContain('href="/runs/new/phosphate-photometer?of=blank"');
    // Where the blank itself begins, nobody asks for it.
    expect((await visitor().open("/runs/new/phosphate-photometer?of=blank")).text).not.toContain(
      "No blank was measured",
    );
    const { db } = hands.bench;
    const now = Date.parse("2026-04-12T12:00:00.000Z");
    const at = (minute: number) => new Date(now + minute * 60_000).toISOString();
    const asked = async (minute: number) =>
      owedNow(
        db,
        (await rulesInForce(db)).rules,
        { instrument_id: "phosphate-photometer", source: "analysis", technique: "photometer" },
        at(minute),
      );
    await run(0.01, 0, blank, at(0));
    expect(await asked(30)).toEqual([]);
    await run(0.8, 0, undefined, at(30));
    expect(await asked(60)).toEqual([]);
    await run(0.8, 0, undefined, at(60));
    expect(await asked(90)).toMatchObject([{ kind: "blank", since: 2 }]);
  });

  it("is asked for right after a calibration, and at the start of a reading", async () => {
    await owing(20);
    const work = await calibratedPh(hands.bench, new Date().toISOString());
    const meter = hands.bench.meter.id;
    for (const path of [`/calibrations/${work}`, `/meters/${meter}/read`]) {
      const page = await visitor().open(path);
      expect(page.text).toContain("No blank was measured with it today");
      expect(page.html).toContain(`href="/meters/${meter}/read?of=blank"`);
    }
  });

  it("is nothing where the house owes nothing", async () => {
    expect((await started()).text).not.toContain("was measured with it today");
  });
});

describe("a control's chart", () => {
  it("is drawn from its first result on, and takes limits in words", async () => {
    for (let i = 0; i < 8; i++) await run(1 + 0.01 * (i % 3), 600 - 60 * i, control);
    const before = await visitor().open(chartAt);
    expect(before.text).toContain("Phosphate, photometer, 8 results.");
    expect(before.text).toContain("no limits yet");
    const set = (fields: Record<string, string>) =>
      visitor().send(chartAt, { from: "1", n: "8", method: "study", reason: "first study", ...fields });
    for (const [fields, sentence] of [
      [{ n: "3" }, "At least 7."],
      [{ n: "many" }, "Give a number of results."],
      [{ from: "0" }, "They are counted from 1."],
      [{ from: "5" }, "Limits need at least 7 results; 4 were chosen."],
      [{ reason: "" }, "Say why: first study, new reagent"],
    ] as [Record<string, string>, string][]) {
      const answer = await set(fields);
      expect([answer.status, answer.text.includes(sentence)]).toEqual([422, true]);
    }
    expect((await set({})).status).toBe(200);
    const after = await visitor().open(chartAt);
    expect(after.text).toContain("in control");
    expect(after.text).toContain("8 results, mean and standard deviation first study");
    const paper = chartAt.replace("/quality/chart", "/quality/chart/report");
    const { text, html } = await visitor().open(paper);
    expect(text).toContain("control chart CS-1, Phosphate as PO4");
    expect(text).toContain("first study");
    expect(html).toMatch(/aria-label="CS-1, 8 results, the last 1\.01 mg\/L; centre 1\.01, action limits/);
    const pdf = await visitor().ask(paper.replace("/report", "/report.pdf"));
    expect((await textOfPdf(pdf.bytes)).join(" ")).toMatch(/action 1\.0\d.*Results/);
    expect((await partsOfPdf(pdf.bytes)).alts).toHaveLength(1);
    expect((await visitor().open("/quality")).text).toContain("CS-1, Phosphate as PO4");
    expect((await visitor().open("/ledger?kind=control")).text).toContain("8 readings");
    expect((await visitor().open("/ledger?kind=sample")).text).toContain("0 readings");
  });
  it("is one of many on the page of checks, which draws twenty of them, and all when somebody asks", async () => {
    const { db } = hands.bench;
    const id = await run(1, 30, control);
    const row = await db("readings").where({ id }).first();
    for (let n = 2; n <= 23; n++) {
      const copy = { ...row, id: `copy-${n}`, subject_code: `CS-${n}`, measured_at: minutes(30 + n) };
      await db("readings").insert(copy);
    }
    const some = await visitor().open("/quality");
    expect(some.text).toContain("CS-20");
    expect(some.text).not.toContain("CS-21");
    expect(some.text).toContain("All 23 controls");
    const all = await visitor().open("/quality?all=1");
    expect(all.text).toContain("CS-23");
    expect(all.text).not.toContain("All 23 controls");
  });

  it("that nobody measured is not there", async () => {
    expect((await visitor().open(chartAt)).status).toBe(404);
    expect((await visitor().open("/quality/chart")).status).toBe(404);
  });
});

describe("what is in the vessel", () => {
  const start = (fields: Record<string, string>) =>
    visitor().send("/runs/new/phosphate-photometer", {
      work: ulid(),
      event: ulid(),
      site: hands.bench.site.id,
      sample: "BP-1",
      temperature: "20",
      "lot-powder": "L-1",
      ...fields,
    });
  const refused = async (fields: Record<string, string>, sentence: string) => {
    const { status, text } = await start(fields);
    expect([status, text.includes(sentence)]).toEqual([422, true]);
    expect(await hands.bench.db("bench_work")).toEqual([]);
  };

  it.each([
    [{ subject: "wine" }, "Choose what is in the vessel."],
    [{ subject: "control" }, "Say which bottle it is."],
    [{ subject: "control", subject_code: "x".repeat(25) }, "Keep the lot's code under 25 characters."],
    [{ subject: "control", subject_code: "C", expected: "much" }, "is not a number"],
    [{ subject: "standard", subject_code: "C" }, "Say what is in the standard."],
    [{ subject: "spike", subject_code: "C" }, "Choose the result of the same water without the addition."],
  ])("of %j is asked for in words", (fields, sentence) =>
    refused(fields as Record<string, string>, sentence),
  );

  it("may not be a bottle that was withdrawn", async () => {
    const lot = {
      kind: "control-sample",
      code: "CS-9",
      name: "Phosphate control",
      strength: "1",
      strength_u: "0.01",
      strength_unit: "mg/L",
      received_on: "2026-01-01",
      opened_on: "2026-02-01",
      expires_on: "2031-01-01",
      size: "500",
      unit: "mL",
    };
    await visitor().send("/stock/new", lot);
    const { id } = await hands.bench.db("lots").where({ code: "CS-9" }).first("id");
    const page = await visitor().open("/runs/new/phosphate-photometer?of=control&bottle=CS-9");
    expect(page.text).toContain("Phosphate control: 1.000 mg/L PO4");
    await visitor().send(`/stock/${id}`, { do: "withdraw", reason: "mould", since: "2026-02-01" });
    await refused({ subject: "control", subject_code: "CS-9" }, "Take another.");
  });

  it("is kept with the result, and said on its page", async () => {
    const work = ulid();
    const { location } = await start({ work, subject: "control", subject_code: "CS-1", expected: "1,0" });
    expect(location).toBe(`/runs/${work}`);
    const event = await hands.bench.db("bench_events").where({ work_id: work }).first();
    expect(JSON.stringify(event)).toContain("CS-1");
  });

  it("of a meter may be a control too", async () => {
    const page = await visitor().open(`/meters/${hands.bench.meter.id}/read?of=control&bottle=OC-1`);
    expect(page.html).toContain('value="OC-1"');
    await calibratedPh(hands.bench, minutes(30));
    const read = (fields: Record<string, string>) =>
      visitor().send(`/meters/${hands.bench.meter.id}/read`, {
        work: ulid(),
        event: ulid(),
        site: hands.bench.site.id,
        sample: "own control",
        measurand: "ph",
        subject: "control",
        ...fields,
      });
    expect((await read({})).text).toContain("Say which bottle it is.");
    expect((await read({ subject_code: "OC-1" })).location).toContain("/readings/");
  });
});

describe("the detection limit of a method", () => {
  const low: Subject = { kind: "control", code: "CS-1", lot_id: null, expected: null, uncertainty: null };
  const study = async (values: readonly number[]) => {
    for (const [i, value] of values.entries()) await run(value, 300 - 20 * i, low);
  };
  const take = (replicates: string) => visitor().send(chartAt, { do: "detection-limit", replicates });
  const limits = () => hands.bench.db("detection_limits");

  it("is found from replicates of a low standard, once, and is what runs and blanks go by from then on", async () => {
    await study([0.11, 0.14, 0.1, 0.13, 0.12, 0.15, 0.12, 0.13]);
    const before = await visitor().open(chartAt);
    // The newest seven: s by hand 0.01604, times 3.143.
    expect(before.text).toMatch(/t · s = 3\.143 · 0\.016 = 0\.050 mg\/L/);
    expect((await take("8")).status).toBe(200);
    await take("8");
    const [own, ...others] = await limits();
    expect(others).toEqual([]);
    // Eight replicates: s 0.01604, t(0.99, 7) 2.998 (table of Student's t).
    expect(own.value).toBeCloseTo(2.998 * 0.016036, 4);
    expect((await visitor().open("/methods/phosphate-photometer")).text).toContain(
      "Detection limit, found here 0.048 mg/L 8 replicates of CS-1",
    );
    const id = await run(0.06, 10, blank);
    const page = await visitor().open(`/ledger?reading=${id}`);
    expect(page.text).toContain("at most 0.048 mg/L");
  });

  it.each([
    ["6", "At least 7."],
    ["many", "Give a number of results."],
  ])("is not taken from %s results", async (replicates, words) => {
    await study([0.11, 0.14, 0.1, 0.13, 0.12, 0.15, 0.12]);
    const { status, text } = await take(replicates);
    expect([status, text.includes(words)]).toEqual([422, true]);
    expect(await limits()).toEqual([]);
  });

  it("is not taken from a bottle that is far too strong, or from results that are all the same", async () => {
    await study([1.01, 1.0, 1.02, 1.0, 1.01, 1.0, 1.02]);
    expect((await take("7")).text).toContain("take a weaker one");
    await hands.bench.db("readings").update({ value: 0.2 });
    expect((await take("7")).text).toContain("They do not differ at all");
    expect(await limits()).toEqual([]);
  });
});

describe("two looks at one colour", () => {
  const looks = async (more: readonly number[]) => {
    const method = libraryMethod("nitrate-tube");
    for (const [i, m] of more.entries()) {
      const at = new Date(Date.now() - (more.length - i) * 3_600_000).toISOString();
      const work = ulid();
      await openTestRun(hands.bench, method, at, { work, subject: { kind: "sample" } });
      const player = new RunPlayer(method, {}, Date.parse(at));
      player.play(2.2, () => player.secondLook("Maren", m));
      await postPlayed(hands.bench, work, player.events, at);
    }
  };

  it("show of two observers who sees more, when chance alone would not", async () => {
    const { replicates } = libraryMethod("nitrate-tube");
    await looks(Array.from({ length: Math.ceil(6 / replicates) }, () => 1));
    const { text } = await visitor().open("/quality");
    expect(text).toContain("Two looks at one colour, of twelve weeks");
    expect(text).toMatch(/Noor, Maren \d+ 0 \d+ 0 \+1\.0 steps .*Maren sees more/);
    const rows = await hands.bench.db("second_looks");
    expect(rows.every((r) => r.difference === 1 && r.observer === "Maren")).toBe(true);
  });

  it("say nothing of a side while they are few, and nothing at all where nobody looked", async () => {
    expect((await visitor().open("/quality")).text).not.toContain("Two looks at one colour");
    await looks([1]);
    expect((await visitor().open("/quality")).text).toContain("too few to tell");
  });
});

describe("duplicates over time", () => {
  const at =
    "/quality/pairs?by=phosphate-photometer&parameter=phosphate&analyte=Phosphate+as+PO4&unit=mg%2FL";

  it("are led to from the checks, each pair with its difference, and three say how well it repeats", async () => {
    for (const ago of [300, 200]) await run(0.8, ago);
    const checks = await visitor().open("/quality");
    expect(checks.html).toContain(at.replaceAll("&", "&amp;"));
    expect((await visitor().open(at)).text).toContain("Three pairs at least say how well it repeats.");
    await run(0.9, 100);
    const { db } = hands.bench;
    const ids = await db("readings").where({ parameter: "phosphate" }).orderBy("measured_at").pluck("id");
    // Differences of 0.01, 0.02 and 0.03: s is the root of 0.0014 / 6, 0.0153; on average 0.02, the limit 3.267 times that. Worked by hand.
    for (const [i, id] of ids.entries())
      await db("readings")
        .where({ id })
        .update({ pair_range: 0.01 * (i + 1) });
    // One line for each method or meter, by the name it has.
    const [newest] = await db("readings").where({ id: ids[2] });
    const { id: meter_id, code } = hands.bench.meter;
    const own = { parameter: "ph", analyte: "pH", instrument_id: meter_id, meter_id, method: null };
    await db("readings").insert({ ...newest, ...own, id: `${ids[2]}-of-a-meter` });
    const lines = await pairsLately(db, new Date(noon).toISOString());
    expect(lines.map(({ instrument, n }) => [instrument, n])).toEqual([
      [libraryMethod("phosphate-photometer").name, 3],
      [code, 1],
    ]);
    expect(lines[0]?.sd).toBeCloseTo(Math.sqrt(0.0014 / 6), 12);
    expect(lines[0]?.action_range).toBeCloseTo(3.267 * 0.02, 12);
    const { text, html } = await visitor().open(at);
    expect(text).toContain("One result repeats within 0.015 mg/L");
    expect(text).toContain("none further apart than 0.065 mg/L");
    expect(html).toContain("3 pairs from");
    expect(html.match(/class="plot-dot"/g)).toHaveLength(3);
    expect(html).toContain(`href="/runs/${ids[0]?.slice(0, 26)}?of=phosphate"`);
    await db("readings").where({ id: ids[2] }).update({ pair_range: 0.5 });
    for (let ago = 90; ago > 10; ago -= 10) await run(0.8, ago);
    const beyond = await visitor().open(at);
    expect(beyond.text).toContain("1 pair beyond");
    expect(beyond.html.match(/class="plot-marked"/g)).toHaveLength(1);
    expect((await visitor().open("/quality/pairs?by=none")).status).toBe(404);
  });
});
