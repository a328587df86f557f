import { ulid } from "ulid";
import { describe, expect, it } from "vitest";
import { postEvents } from "../../app/server/bench/bench.server";
import { startCalibration } from "../../app/server/calibrations/startWork.server";
import { addLot } from "../../app/server/stock/lots.server";
import type { StoredStandard } from "../../app/server/stock/standards.server";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import {
  beginCalibration,
  beginReading,
  calibratedPh,
  liveCapture,
  phReading,
  testLot,
  testNow,
  wholeRun,
} from "../../app/server/testing/testBench";
import type { Capture } from "../../core/bench/capture";
import { Visitor } from "./pages";

const hands = benchForEachTest();
const visitor = () => new Visitor(hands.bench);

/** What a perfect electrode gives in the buffers 7 and 10, and in borate, mV at 25 °C. */
const perfect = [0, -178.1, -128.97];

/** A calibration of the pH meter with these bottles (the last one is the check) that gives what is said, as its page tells it. */
async function calibrationWith(
  captures: readonly Capture[],
  lots: readonly (StoredStandard & { reason?: string })[] = hands.bench.lots,
) {
  const { bench } = hands;
  const start = { work_id: ulid(), event_id: ulid(), actor: bench.person, at: testNow };
  const chosen = lots.map(({ reason = null, ...stored }, i) => ({
    measurand: "ph" as const,
    role: i < lots.length - 1 ? ("point" as const) : ("check" as const),
    stored,
    reason,
  }));
  await startCalibration(bench.db, start, bench.meter, chosen, { conditions: null });
  await play(start.work_id, captures);
  return visitor().open(`/calibrations/${start.work_id}`);
}

async function play(work: string, captures: readonly Capture[], finished = true): Promise<void> {
  const { bench } = hands;
  const events = wholeRun(bench, [...captures]);
  const posted = await postEvents(
    bench.db,
    bench.person,
    work,
    finished ? events : events.slice(0, -1),
    testNow,
  );
  expect(posted.refused).toBeFalsy();
}

describe("a calibration", () => {
  it("of aged glass is usable with a note, and says what to do", async () => {
    const slow = (mv: number) => ({ ...liveCapture(0.92 * mv), seconds_in_solution: 200 });
    const { text } = await calibrationWith(perfect.map(slow));
    expect(text).toContain("Usable with a note. Slope 92");
    expect(text).toContain("the glass is aged or dirty");
    expect(text).toContain("soak the probe in storage solution overnight");
  });

  it("with swapped buffers is recognised, has failed, and leads to another", async () => {
    const { text, html } = await calibrationWith([-178.1, 0, -128.97].map((mv) => liveCapture(mv)));
    expect(text).toContain("Failed. Do not use this meter.");
    expect(text).toMatch(/were swapped: with their values exchanged/);
    expect(html).toMatch(/<a [^>]*href="\/meters\/[^"]+\/calibrate\?of=ph"[^>]*>Calibrate again/);
  });

  it("with a lot past its date is usable with a note, and keeps why it was used", async () => {
    const { db, person, lots } = hands.bench;
    const late = testLot("ph-buffer", "technical-7", Number.NaN, { code: "OLD-7", expires_on: "2026-03-01" });
    const old = await addLot(db, late, person, testNow);
    if (!old) throw new Error("The lot is not kept.");
    const { text } = await calibrationWith(
      perfect.map((mv) => liveCapture(mv)),
      [{ ...old, reason: "The good bottle is empty." }, ...lots.slice(1)],
    );
    expect(text).toContain("Usable with a note");
    expect(text).toContain("Used because: The good bottle is empty.");
  });

  it("with a third point says the slope between neighbours", async () => {
    const { db, person, lots } = hands.bench;
    const four = await addLot(db, testLot("ph-buffer", "technical-4", Number.NaN), person, testNow);
    if (!four) throw new Error("The lot is not kept.");
    const { text } = await calibrationWith(
      [171.5, ...perfect].map((mv) => liveCapture(mv)),
      [four, ...lots],
    );
    // 171.5 mV over 2.99 pH at 59.16 mV each are 97.0 %.
    expect(text).toContain("Between neighbours: 4.01 – 7.00: 97.0 % 7.00 – 10.01: 100.0 %");
  });
});

describe("a reading", () => {
  it("outside the buffers is used with a note that names the missing one", async () => {
    await calibratedPh(hands.bench);
    const reading = await phReading(hands.bench, 95);
    const { text } = await visitor().open(`/readings/${reading}`);
    expect(text).toContain("Use it with the note.");
    expect(text).toContain("outside the buffers");
    expect(text).toContain("Calibrate with a buffer below pH");
  });

  it("is shown as it was read, where a calibration of before came to be known only afterwards", async () => {
    const { bench } = hands;
    await calibratedPh(bench, testNow);
    const begun = "2026-04-12T08:30:00.000Z";
    const calibration = await beginCalibration(bench, begun);
    const reading = await phReading(bench, -62, "2026-04-12T09:00:00.000Z");
    const ageing = perfect.map((mv) => liveCapture(0.97 * mv - 8));
    const events = wholeRun(bench, ageing, begun);
    await postEvents(bench.db, bench.person, calibration, events, "2026-04-12T10:00:00.000Z");
    const { text } = await visitor().open(`/readings/${reading}`);
    expect(text).toContain("P-2, 12 Apr, 08:30 sound Known by slope 97.0 %, offset −8.0 mV");
    expect(text).toContain("Read with that of 12 Apr, 08:00 slope 100.0 %, offset 0.0 mV");
    // What its value was reckoned with is what it was read with.
    expect(text).toContain("= 7 + 0.0 − −62.0 100.0 % · 59.16 = pH 8.05");
    expect(text).toContain("this reads pH 7.94, not pH 8.05");
  });

  it("whose portions fall apart asks for a third, and for new water when none agree", async () => {
    await calibratedPh(hands.bench);
    const work = await beginReading(hands.bench);
    const portions = [-20, -40, -60].map((mv) => liveCapture(mv));
    await play(work, portions.slice(0, 2), false);
    expect((await visitor().open(`/readings/${work}`)).text).toContain("a third decides");
    const events = wholeRun(hands.bench, portions).slice(6);
    await postEvents(hands.bench.db, hands.bench.person, work, events, testNow);
    const { text } = await visitor().open(`/readings/${work}`);
    expect(text).toContain("Held");
    expect(text).toContain("Collect a new sample");
  });
});
