import { ulid } from "ulid";
import { describe, expect, it } from "vitest";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import { openTestRun, postPlayed } from "../../app/server/testing/benchRun";
import { methodLibrary } from "../../core/methods/library";
import { resultsOf } from "../../core/methods/methodWords";
import { jobsOf, plannable } from "../../core/planner/fromMethod";
import { planJobs } from "../../core/planner/planner";
import { libraryMethod, RunPlayer } from "../../core/simulation/runPlayer";
import { Visitor } from "./pages";

const hands = benchForEachTest();
const at = "2026-04-12T08:00:00.000Z";
const visitor = () => new Visitor(hands.bench);
const atBench = methodLibrary.filter((m) => m.measure.technique !== "meter");

/** A result of a size that this method can measure. */
const sizeOf = (id: string): number => {
  const { range } = libraryMethod(id);
  return range.low + (range.high - range.low) * 0.4;
};

describe("the page of runs", () => {
  it("lists every method that ships, and what is open first", async () => {
    await openTestRun(hands.bench, libraryMethod("oxygen-drops"), at);
    const { text, html } = await visitor().open("/runs");
    for (const method of methodLibrary) expect(text).toContain(method.name);
    expect(html).toMatch(/Open now.*aria-label="Find a method"/s);
    expect(text).toContain(`${libraryMethod("oxygen-drops").name}, BP-0412 Bathing pond, since`);
  });
});

describe("the start of a run", () => {
  const fields = (more: Record<string, string> = {}) => ({
    work: ulid(),
    event: ulid(),
    site: hands.bench.site.id,
    sample: "BP-0412",
    ...more,
  });
  const startAt = "/runs/new/phosphate-photometer";

  it.each([
    ["temperature", "warm", "“warm” is not a number"],
    ["temperature", "140", "The sample's temperature lies between -5 and 100."],
    ["dilution", "0.2", "A dilution factor lies between 1 and 10000."],
    ["sample", " ", "Give the sample the name on its bottle."],
    ["sample", "x".repeat(41), "Keep the sample's name under 41 characters."],
    ["site", "", "Choose where the water is from."],
    ["site", "01HZZZZZZZZZZZZZZZZZZZZZZZ", "This site is gone. Choose another."],
    ["lot-powder", "L".repeat(25), "Keep the lot's code under 25 characters."],
  ])("refuses %s = “%s” with a sentence, and starts nothing", async (name, value, sentence) => {
    const { status, text } = await visitor().send(startAt, fields({ [name]: value }));
    expect(status).toBe(422);
    expect(text).toContain(sentence);
    expect(await hands.bench.db("bench_work")).toEqual([]);
  });

  it.each([
    ["phosphate-curve", "curve", "0 0,004\n0,5 a lot", "Write three standards or more, a line each"],
    ["phosphate-curve", "curve", "0 0,4\n0,5 0,3\n1 0,2", "does not rise with the concentration"],
    ["chloride-capillary", "table", "1.0 30\n3.0 much", "Write the table as lines of division and mg/L"],
  ])("refuses a run of %s whose %s is “%s”, in words", async (method, name, value, sentence) => {
    const { status, text } = await visitor().send(`/runs/new/${method}`, fields({ [name]: value }));
    expect(status).toBe(422);
    expect(text).toContain(sentence);
  });

  it("offers the standards that were read for the shift", async () => {
    const curve = "0 0.004\n0.5 0.104\n1 0.204\n2 0.404";
    const begun = await visitor().send(
      "/runs/new/phosphate-curve",
      fields({ curve: curve.replace(/\./g, ",") }),
    );
    expect(begun.location).toMatch(/^\/runs\//);
    expect((await visitor().open("/runs/new/phosphate-curve")).html).toContain(curve);
  });

  it("takes an expired lot only with a reason, and keeps the reason", async () => {
    const late = { "lot-powder": "PO-1", "expires-powder": "2026-01-31" };
    const refused = await visitor().send(startAt, fields(late));
    expect(refused.text).toContain("This lot has expired. Take another, or say why you use it all the same.");
    const sent = fields({ ...late, "reason-powder": "the good bottle is empty" });
    expect((await visitor().send(startAt, sent)).location).toBe(`/runs/${sent.work}`);
    const started = JSON.parse((await hands.bench.db("bench_events").first("payload")).payload);
    expect(started.lots).toMatchObject([{ code: "PO-1", reason: "the good bottle is empty" }]);
  });

  it("questions the code of a standard on the shelf, and keeps why it is right after all", async () => {
    const [standard] = hands.bench.lots;
    if (!standard) throw new Error("The shelf is empty.");
    const { code, name } = standard.lot;
    const sent = fields({ "lot-powder": code.toLowerCase() });
    const questioned = await visitor().send(startAt, sent);
    expect(questioned.text).toContain(`On the shelf, ${code} is ${name}. Look at the bottle again`);
    expect(await hands.bench.db("bench_work")).toEqual([]);
    const kept = { ...sent, "reason-powder": "the maker numbers both alike" };
    expect((await visitor().send(startAt, kept)).location).toBe(`/runs/${sent.work}`);
  });

  it("leads to the run, once however often it is sent, and again from a plan", async () => {
    const sent = fields();
    expect((await visitor().send(startAt, sent)).location).toBe(`/runs/${sent.work}`);
    await visitor().send(startAt, sent);
    expect(await hands.bench.db("bench_work")).toHaveLength(1);
    expect((await visitor().open(`${startAt}?work=${sent.work}`)).location).toBe(`/runs/${sent.work}`);
  });

  it("offers the lots of the last run of the method", async () => {
    const sent = fields({ "lot-powder": "PO-77", "expires-powder": "2030-01-01" });
    await visitor().send(startAt, sent);
    expect((await visitor().open(startAt)).html).toContain('value="PO-77"');
    expect((await visitor().open("/runs/new/nitrate-tube")).html).not.toContain("PO-77");
  });

  it("knows nothing of a method that nobody keeps", async () => {
    expect((await visitor().open("/runs/new/alchemy")).status).toBe(404);
  });
});

describe.each(atBench.map((m) => [m.id, m] as const))("%s on its pages", (id, method) => {
  it("shows its card: range, hazards, waste, where it comes from; and exports itself", async () => {
    const { text } = await visitor().open(`/methods/${id}`);
    expect(text).toContain(method.name);
    for (const line of [...method.interferences, ...method.hazards]) expect(text).toContain(line);
    expect(text).toContain(`Given as ${method.result.species}`);
    const exported = await visitor().ask(`/methods/${id}/export.json`);
    expect(JSON.parse(exported.body)).toEqual(method);
  });

  it("says before it begins what to protect oneself from", async () => {
    const { text } = await visitor().open(`/runs/new/${id}`);
    for (const line of method.protection) expect(text).toContain(line);
    expect(text).toContain("Never pour reacted samples into the water.");
  });

  it("goes from its first card over its reading to the judged result", async () => {
    const played = new RunPlayer(method);
    const work = await openTestRun(hands.bench, method, at);
    const first = await visitor().open(`/runs/${work}`);
    expect(first.text).toContain(method.steps.find((s) => s.kind !== "wait")?.text ?? "");
    const step = played.until("read");
    await postPlayed(hands.bench, work, played.events, at);
    const reading = await visitor().open(`/runs/${work}`);
    expect(reading.text).toContain(step.text);
    // A reading has a place to go: a field, a scale to tap, a counter, or a burette.
    expect(reading.html).toMatch(/<input|<fieldset|drop-target|class="curve/);
    await postPlayed(hands.bench, work, played.play(sizeOf(id)).events, at);
    const report = await visitor().open(`/runs/${work}`);
    for (const { analyte, unit } of resultsOf(method)) {
      expect(report.text).toContain(analyte);
      expect(report.text).toContain(unit);
    }
    expect(report.text).toContain("What this result rests on");
    expect(report.text).toMatch(/sound|qualified|held/i);
    expect((await visitor().open("/ledger")).text).toContain("Bathing pond");
  });
});

describe("a method that is no longer run", () => {
  const path = "/methods/oxygen-drops";
  const manager = () => new Visitor(hands.bench, { ...hands.bench.person, role: "manager" });

  it("is taken out of use with a reason, leaves the lists and the start, and is taken into use again", async () => {
    expect((await manager().send(path, { reason: " " })).text).toContain("Say why it is used no more.");
    await manager().send(path, { reason: "the kit is no longer made" });
    expect((await visitor().open(path)).text).toContain("the kit is no longer made");
    const runs = await visitor().open("/runs");
    expect(runs.text).toContain("No longer run here");
    expect(runs.html).not.toContain('/runs/new/oxygen-drops"');
    expect((await visitor().open("/runs/new/oxygen-drops")).location).toBe(path);
    await manager().send(path, { do: "use" });
    expect((await visitor().open("/runs")).html).toContain('/runs/new/oxygen-drops"');
  });
});

describe("a run that does not go as it should", () => {
  it("offers the diluted run when it is over range", async () => {
    const method = libraryMethod("phosphate-photometer");
    const played = new RunPlayer(method);
    const work = await openTestRun(hands.bench, method, at);
    for (let replicate = 0; replicate < method.replicates; replicate++) {
      const step = played.until("read");
      played.happen({ type: "read", replicate, step: step.id, raw: { kind: "off-scale", side: "over" } }, 1);
    }
    await postPlayed(hands.bench, work, played.finish().events, at);
    const { text, html } = await visitor().open(`/runs/${work}`);
    expect(text).toContain("Dilute 5 times and run again");
    expect(html).toContain(`dilutes=${work}`);
    const diluted = await visitor().open(`/runs/new/${method.id}?dilutes=${work}&dilution=5`);
    expect(diluted.text).toContain("The diluted run: the factor is multiplied once.");
    expect(diluted.html).toContain('value="5"');
  });

  it("says why bottles are emptied, and judges nothing", async () => {
    const method = libraryMethod("oxygen-syringe");
    const played = new RunPlayer(method);
    const work = await openTestRun(hands.bench, method, at);
    played.happen({ type: "recollect", reason: "There was a bubble in a bottle." }, 1);
    await postPlayed(hands.bench, work, played.events, at);
    const { text } = await visitor().open(`/runs/${work}`);
    expect(text).toContain("There was a bubble in a bottle. Collect new water and start again.");
    expect(await hands.bench.db("readings")).toEqual([]);
  });

  it("shows where each replicate stands, and offers the second while the first waits", async () => {
    const method = libraryMethod("ammonia-salicylate");
    const now = new Date().toISOString();
    const played = new RunPlayer(method, {}, Date.parse(now) - 60_000);
    const work = await openTestRun(hands.bench, method, new Date(played.clock).toISOString());
    const waits = () => method.steps.findIndex((s) => s.kind === "wait");
    for (const step of method.steps.slice(0, waits())) {
      played.happen({ type: "done", replicate: 0, step: step.id }, 5);
    }
    await postPlayed(hands.bench, work, played.events, now);
    const { text } = await visitor().open(`/runs/${work}`);
    expect(text).toMatch(/1 \d+:\d\d 2 ready/);
    expect(text).toContain("Meanwhile: the second");
  });

  it("shows the rinses of the step in hand, how many are ticked, and what going on with fewer would be", async () => {
    const method = libraryMethod("ammonia-salicylate");
    const step = method.steps.find((s) => s.kind === "do" && s.rinses > 0)?.id ?? "";
    const played = new RunPlayer(method);
    const work = await openTestRun(hands.bench, method, at);
    const seen = async () => (await visitor().open(`/runs/${work}`)).text;
    expect(await seen()).toMatch(/rinsed 0 of 3 times Rinsed space Go on without rinsing/);
    played.happen({ type: "rinsed", replicate: 0, step }, 4);
    await postPlayed(hands.bench, work, played.events, at);
    expect(await seen()).toMatch(/rinsed 1 of 3 times Rinsed space Go on with 1 rinse/);
    for (const _ of [2, 3]) played.happen({ type: "rinsed", replicate: 0, step }, 4);
    await postPlayed(hands.bench, work, played.events, at);
    expect(await seen()).toMatch(/rinsed 3 of 3 times Done space Leave it out/);
    expect((await visitor().open(`/methods/${method.id}`)).text).toContain("3 rinses, ");
  });

  it("is not found under an id that nobody has", async () => {
    expect((await visitor().open(`/runs/${ulid()}`)).status).toBe(404);
  });
});

describe("a method of one's own", () => {
  const document = () => ({ ...libraryMethod("nitrate-tube"), id: "our-nitrate", name: "Our nitrate" });
  const edit = (text: string, basedOn = "0") =>
    visitor().send("/methods/nitrate-tube/edit", { document: text, basedOn, reason: "our own times" });

  it("is kept, shown, and offered to be run", async () => {
    const kept = await edit(JSON.stringify({ ...document(), version: 1 }));
    expect(kept.location).toBe("/methods/our-nitrate");
    expect((await visitor().open("/methods/our-nitrate")).text).toContain("version 1, your own");
    expect((await visitor().open("/runs")).text).toContain("Our nitrate");
  });

  it("is refused with the place and the reason: no JSON, a broken step, an id that is taken", async () => {
    expect((await edit("{")).text).toContain("The document is not JSON.");
    const broken = document();
    const steps = broken.steps.map((s, i) => (i === 0 ? { ...s, text: "" } : s));
    expect((await edit(JSON.stringify({ ...broken, steps }))).status).toBe(422);
    expect((await edit(JSON.stringify(libraryMethod("nitrate-tube")))).text).toContain(
      "Give your copy another one",
    );
    expect(await hands.bench.db("methods")).toEqual([]);
  });
});

describe("the page of plans", () => {
  const planOf = (ids: readonly string[]) => {
    const tests = ids.map((method) => ({ run: ulid(), method, site: hands.bench.site.id }));
    const jobs = tests.flatMap((t) => jobsOf(plannable(libraryMethod(t.method)), "pond", t.run));
    const found = planJobs(jobs, { people: 1 });
    if (!found) throw new Error("There is a plan.");
    const { starts, person, stretch_s, proved } = found;
    const more = { planned_at: 0, revision: 0, stretch_s, proved, trouble: null };
    return { id: ulid(), tests, people: 1, align: "earliest", jobs, starts, person, ...more };
  };
  const send = (plan: unknown) =>
    visitor().send("/runs/plan", {
      intent: "start",
      plan: typeof plan === "string" ? plan : JSON.stringify(plan),
    });

  it("asks for tests, and which water they are of", async () => {
    const { text } = await visitor().open("/runs/plan");
    expect(text).toContain("Add the tests you want to do");
    expect(text).toContain("Bathing pond");
    expect(text).not.toContain("Plan again from now");
  });

  it("shows a plan that was started: what to begin, how long, and the lanes", async () => {
    expect((await send(planOf(["phosphate-tube", "nitrate-tube"]))).location).toBe("/runs/plan");
    const { text, html } = await visitor().open("/runs/plan");
    expect(text).toContain("to the last reading");
    expect(text).toContain("Plan again from now");
    expect(html.match(/class="lane /g)).toHaveLength(2);
    expect(text).toContain("2 tests to begin");
    const put = await visitor().send("/runs/plan", {
      intent: "end",
      id: (await hands.bench.db("bench_plans").first("id")).id,
    });
    expect(put.location).toBe("/runs/plan");
    expect((await visitor().open("/runs/plan")).text).toContain("Add the tests you want to do");
  });

  it("refuses what is no plan, and one that cannot be kept", async () => {
    const plan = planOf(["phosphate-tube", "nitrate-tube"]);
    for (const bad of ["{", {}, { ...plan, starts: plan.starts.map((row) => row.map(() => 0)) }]) {
      expect((await send(bad)).status).toBe(422);
    }
    expect(await hands.bench.db("bench_plans")).toEqual([]);
  });
});
