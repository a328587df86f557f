import Ajv from "ajv";
import addFormats from "ajv-formats";
import { monotonicFactory } from "ulid";
import { describe, expect, it } from "vitest";
import { postEvents } from "../../app/server/bench/bench.server";
import { verifyJournal } from "../../app/server/bench/verifyJournal.server";
import { dayRail, newestOpen } from "../../app/server/day/day.server";
import { batchPaper } from "../../app/server/samples/batches.server";
import { custodyPdf } from "../../app/server/samples/custodyPdf.server";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import { textOfPdf } from "../../app/server/testing/pdfText";
import { ago, receivedBottle } from "./bottleAtHand";
import { type Fields, Visitor } from "./pages";

/** Ids that rise as things happen, as a browser makes them. */
const ulid = monotonicFactory();
const hands = benchForEachTest();
const visitor = () => new Visitor(hands.bench);
const received = (more: Fields = {}) => receivedBottle(hands.bench, more);

describe("samples on their way to a laboratory", () => {
  const laboratory = "Marsh Lane Laboratory";
  /** Two bottles and their batch. */
  async function batch() {
    const water = await received({ code: "E1-1", type: "nutrients-filtered", collected: ago(40) });
    const germs = await received({ code: "E1-2", type: "sterile", collected: ago(40), temperature_c: "8" });
    const form = {
      work: ulid(),
      event: ulid(),
      id: [water.id, germs.id],
      [`tests-${water.id}`]: ["nitrate", "phosphate"],
      [`tests-${germs.id}`]: "e-coli",
      laboratory,
      holder: "Noor",
      programme: "Feed water",
      contact: "",
      notes: "Clear and hard.",
    };
    const answer = await visitor().send("/custody", form);
    if (answer.location !== `/custody/${form.work}`) throw new Error(answer.text);
    await visitor().send("/custody", form);
    return { id: form.work, water, germs };
  }
  const happens = async (work: string, ...events: object[]) => {
    const now = new Date().toISOString();
    const made = events.map((e) => ({ id: ulid(), at: now, by: "x", ...e }));
    const posted = await postEvents(hands.bench.db, hands.bench.person, work, made, now);
    expect(posted.refused).toBeUndefined();
  };
  const hop = (from: string, to: string, hours: number, temperature_c: number | null = 4) => ({
    from,
    to,
    happened_at: ago(hours),
    temperature_c,
    seal: "intact",
  });
  const file = (...lines: string[]) =>
    ["sample,parameter,result,unit,method,LOD,analysed", ...lines].join("\n");
  const keep = (work: string, text: string, more: Record<string, string> = {}) =>
    visitor().send(`/custody/${work}/results`, { do: "keep", text, name: "a.csv", ...more });
  const readings = async () =>
    (await hands.bench.db("readings").orderBy("id").select("parameter", "verdict", "findings", "value")).map(
      (r) => ({ ...r, rules: JSON.parse(r.findings).map((f: { rule: string }) => f.rule) }),
    );

  it("are chosen in the register; the batch is made once, with the tests of each", async () => {
    const { id, water } = await batch();
    expect(await hands.bench.db("batches")).toHaveLength(1);
    const chosen = await visitor().open(`/custody?id=${water.id}`);
    expect(chosen.text).toContain("A new batch of 1 sample");
    const { text } = await visitor().open(`/custody/${id}`);
    expect(text).toContain("Fresh ice first");
    expect(text.indexOf("E1-2")).toBeLessThan(text.indexOf("E1-1"));
    expect((await visitor().open("/custody")).text).toContain("not received yet");
  });

  it("stand on the line of the day until the laboratory has them, whatever else is said of them", async () => {
    const { id, water } = await batch();
    const onTheRail = async () =>
      (await dayRail(hands.bench.db, new Date().toISOString())).running.map((r) => [r.title, r.detail]);
    const waiting = [[`Samples for ${laboratory}`, "not received yet"]];
    expect(await onTheRail()).toEqual(waiting);
    const test = { parameter: "chloride", name: "Chloride" };
    await happens(
      id,
      { type: "test-added", sample_id: water.id, test },
      { type: "noted", text: "Late courier." },
    );
    expect(await onTheRail()).toEqual(waiting);
    await happens(id, { type: "received", ...hop("Noor", "T. Ravel", 0.1), absent: [] });
    expect(await onTheRail()).toEqual([]);
    expect((await newestOpen(hands.bench.db))?.href).toBeUndefined();
  });

  it("need a laboratory, a holder and tests", async () => {
    const { id } = await received({ code: "X" });
    const form = {
      work: ulid(),
      event: ulid(),
      id,
      laboratory: "",
      holder: "",
      programme: "",
      contact: "",
      notes: "",
    };
    const empty = await visitor().send(`/custody?id=${id}`, form);
    expect(empty.status).toBe(422);
    expect(empty.text).toContain("Say which laboratory they go to.");
    const without = await visitor().send(`/custody?id=${id}`, { ...form, laboratory, holder: "Noor" });
    expect(without.text).toContain("Say what the laboratory is to test X for.");
    expect((await visitor().send("/custody", { ...form, id: [], laboratory, holder: "N" })).status).toBe(422);
  });

  it("come back whole: a closed chain, cold, in time: sound results in the ledger", async () => {
    const { id } = await batch();
    await happens(
      id,
      { type: "cooled", fresh_ice: true, temperature_c: 3 },
      { type: "handed-over", ...hop("Noor", "Courier", 0.3) },
      { type: "received", ...hop("Courier", "T. Ravel", 0.1), absent: [] },
    );
    const text = file(
      `E1-1,NO3-N,4.12,mg/L,IC,0.05,${ago(20)}`,
      `E1-1,PO4,<0.02,mg/L,flow,0.02,${ago(20)}`,
      `E1-2,Escherichia coli,4,MPN/100 mL,MPN,1,${ago(30)}`,
    );
    const looked = await visitor().send(`/custody/${id}/results`, { do: "look", text, name: "a.csv" });
    expect(looked.text).toContain("3 results of 3 lines");
    expect(await readings()).toEqual([]);
    expect((await keep(id, text)).location).toBe(`/custody/${id}`);
    expect(await readings()).toMatchObject(
      [
        { parameter: "nitrate", verdict: "sound", value: 4.12, rules: [] },
        { parameter: "phosphate", verdict: "sound", value: null, rules: [] },
        { parameter: "e-coli", verdict: "sound", value: 4, rules: [] },
      ].sort((a, b) => (a.parameter === "e-coli" ? 1 : b.parameter === "e-coli" ? -1 : 0)),
    );
    // The same file again, as by a double click, changes nothing.
    await keep(id, text);
    expect(await hands.bench.db("reading_judgements")).toHaveLength(3);
    const page = await visitor().open(`/custody/${id}`);
    expect(page.text).toContain("Every result has come.");
    // What only a laboratory measures stands on the site's own page, not on the page of the day.
    expect((await visitor().open("/")).text).not.toContain("E. coli");
    expect((await visitor().open(`/sites/${hands.bench.site.id}`)).text).toContain("E. coli");
    const [first] = await hands.bench.db("readings").where({ parameter: "nitrate" });
    const evidence = await visitor().open(`/ledger?reading=${first.id}`);
    for (const words of [laboratory, "4.12 mg/L", "IC", "a.csv", "E1-1", "every hand"])
      expect(evidence.text).toContain(words);
    expect(await verifyJournal(hands.bench.db)).toBeNull();
  });

  it("say what was wrong: a gap, a warm cooler, bacteria counted too late", async () => {
    const { id } = await batch();
    const text = file(
      `E1-1,NO3-N,4.12,mg/L,IC,0.05,${ago(20)}`,
      `E1-2,E. coli,4,MPN/100 mL,MPN,1,${ago(10)}`,
    );
    await keep(id, text);
    // No receipt so far; bottles filled forty hours ago, of which the sterile one keeps for twenty-four.
    expect(await readings()).toMatchObject(
      [
        { parameter: "nitrate", rules: ["custody-gap"] },
        { parameter: "e-coli", verdict: "qualified", rules: ["bottle-kept", "custody-gap"] },
      ].sort((a, b) => (a.parameter === "e-coli" ? 1 : b.parameter === "e-coli" ? -1 : 0)),
    );
    // The paper with the receipt comes later: what it says counts for the results that are there.
    await happens(
      id,
      { type: "handed-over", ...hop("Noor", "Ada", 0.3) },
      { type: "received", ...hop("Bo", "T. Ravel", 0.2, 9), absent: [] },
    );
    expect(await readings()).toMatchObject(
      [
        { parameter: "nitrate", rules: ["custody-gap", "warm-on-arrival"] },
        { parameter: "e-coli", rules: ["bottle-kept", "custody-gap"] },
      ].sort((a, b) => (a.parameter === "e-coli" ? 1 : b.parameter === "e-coli" ? -1 : 0)),
    );
    expect((await visitor().open("/custody")).text).toContain("1 gap");
    const judged = await hands.bench.db("reading_judgements").where("seq", ">", 1);
    expect(judged.every((j: { cause: string }) => j.cause.includes("the way to the laboratory"))).toBe(true);
    expect(await verifyJournal(hands.bench.db)).toBeNull();
  });

  it("are not taken over line by line unless somebody says so, and the mapping is remembered", async () => {
    const { id } = await batch();
    const text = `Probe;Was;Wert\nE1-1;NO3-N;4.12\nE1-9;NO3-N;3`;
    const columns = { "column-sample": "Probe", "column-parameter": "Was", "column-value": "Wert" };
    const unmapped = await keep(id, text);
    expect(unmapped.text).toContain("Say which column holds the sample and the parameter and the value.");
    const mapped = { ...columns, dates: "day-first" };
    const refused = await keep(id, text, mapped);
    expect([refused.status, refused.text.includes("No sample “E1-9” is in this batch.")]).toEqual([
      422,
      true,
    ]);
    expect(refused.html).toContain("E1-9;NO3-N;3");
    expect(await readings()).toEqual([]);
    await keep(id, text, { ...mapped, partly: "on" });
    expect(await readings()).toMatchObject([{ parameter: "nitrate", value: 4.12 }]);
    const next = await visitor().send(`/custody/${id}/results`, { do: "look", text, name: "b.csv" });
    expect(next.text).toContain("As in the last file of this laboratory.");
  });

  it.each([
    ["", "Choose a file, or paste its lines."],
    ["sample,parameter,result", "at least one line follows"],
    ["sample,parameter,result\nE1-1,NO3", "another number of columns"],
  ])("a file that is none is refused: %j", async (text, sentence) => {
    const { id } = await batch();
    const { status, text: shown } = await visitor().send(`/custody/${id}/results`, {
      do: "look",
      text,
      name: "",
    });
    expect([status, shown.includes(sentence)]).toEqual([422, true]);
  });

  it("judge a corrected result of the laboratory anew, and keep the one before", async () => {
    const { id } = await batch();
    const line = (value: number) => file(`E1-1,NO3-N,${value},mg/L,IC,0.05,${ago(20)}`);
    await keep(id, line(41.2));
    await keep(id, line(4.12));
    expect(await readings()).toMatchObject([{ value: 4.12 }]);
    const history = await hands.bench.db("reading_judgements").orderBy("seq").select("value", "cause");
    expect(history).toEqual([
      { value: 41.2, cause: "first judgement" },
      { value: 4.12, cause: "the laboratory sent it again" },
    ]);
  });

  it("are taken out one by one, with a reason, and stay out when more becomes known", async () => {
    const { id } = await batch();
    await keep(id, file(`E1-1,NO3-N,4.12,mg/L,IC,0.05,${ago(20)}`, `E1-1,PO4,0.2,mg/L,IC,0.05,${ago(20)}`));
    const [nitrate] = await hands.bench.db("readings").where({ parameter: "nitrate" });
    const takeOut = (reason: string) => visitor().send(`/custody/${id}`, { reading: nitrate.id, reason });
    expect((await takeOut("")).status).toBe(422);
    expect((await takeOut("They mixed the bottles up.")).status).toBe(200);
    expect((await takeOut("Again.")).status).toBe(422);
    await happens(id, { type: "received", ...hop("Noor", "T. Ravel", 0.2, 9), absent: [] });
    expect(await readings()).toMatchObject([
      { parameter: "nitrate", verdict: "void" },
      { parameter: "phosphate", verdict: "qualified" },
    ]);
    const panel = await visitor().open(`/ledger?reading=${nitrate.id}`);
    expect(panel.text).toContain("They mixed the bottles up.");
    expect(await verifyJournal(hands.bench.db)).toBeNull();
  });

  it("travel with a page, a PDF that can be read back, and a file that keeps to its schema", async () => {
    const { id, germs } = await batch();
    await happens(id, { type: "handed-over", ...hop("Noor", "Courier", 0.3) });
    const paper = await visitor().open(`/custody/${id}/paper`);
    for (const words of [`Samples for ${laboratory}`, "E1-2", "E. coli", "Courier", "Clear and hard."])
      expect(paper.text).toContain(words);
    const pages = await textOfPdf(await custodyPdf(await batchPaper(hands.bench.db, id)));
    expect(pages).toHaveLength(1);
    for (const words of [
      laboratory,
      id,
      "E1-1",
      "E1-2",
      "E. coli",
      "Nitrate",
      "Courier",
      "4.0 °C",
      "seal intact",
    ])
      expect(pages[0]).toContain(words);
    const json = await visitor().ask(`/custody/${id}/batch.json`);
    const schema = JSON.parse((await visitor().ask("/schemas/custody.json")).body);
    const validate = addFormats(new Ajv({ strict: false })).compile(schema);
    const document = JSON.parse(json.body);
    expect(validate(document), JSON.stringify(validate.errors)).toBe(true);
    expect(document.samples[0].id).toBe(germs.id);
    expect(validate({ ...document, version: 2 })).toBe(false);
  });

  it("are not there for an id that is none", async () => {
    for (const path of ["/custody/none", "/custody/none/paper", "/custody/none/results", "/samples/none"])
      expect((await visitor().open(path)).status, path).toBe(404);
    expect((await visitor().ask("/custody/none/batch.json")).status).toBe(404);
  });
});
