import ICAL from "ical.js";
import { describe, expect, it } from "vitest";
import { dueList } from "../day/due.server";
import { dueCalendar } from "../day/dueCalendar.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { textOfPdf } from "../testing/pdfText";
import { calibratedPond, pondReading, testNow } from "../testing/testBench";
import { findCertificate } from "./certificate.server";
import { certificatePdf } from "./certificatePdf.server";

const use = benchForEachTest();

describe("the certificate of a calibration", () => {
  it("says in its PDF what was calibrated, with what, by whom, and how it was judged", async () => {
    const work = await calibratedPond(use.bench);
    const certificate = await findCertificate(use.bench.db, work);
    if (!certificate) throw new Error("no certificate");
    const pages = await textOfPdf(await certificatePdf(certificate));
    const text = pages.join(" ");
    for (const words of [
      "Calibration of M-1",
      work,
      "Noor",
      "12 Apr 2026, 08:00 (UTC)",
      "M-1/pH, in use since",
      "Conductivity: sound",
      "Dissolved oxygen:",
      "cell factor 100.0 % of nominal",
      "L-technical-7",
      "7.000 ± 0.010 pH",
      "1000.0 hPa here",
      "not measured; fresh water assumed",
      "Valid until 12 Apr 2026, 23:59",
      "The rinse water is pure.",
      "−178.1 mV",
      "Judged by house rules version 1.",
      "Signed",
    ]) {
      expect(text).toContain(words);
    }
    // The micro sign comes from another font, and readers may name it by its Greek letter.
    expect(text).toMatch(/718 [µμ] ?S\/cm/);
    expect(certificate.sections.map((s) => s.title)).toEqual(["Conductivity", "Dissolved oxygen", "pH"]);
  });

  it("does not exist for what was never calibrated", async () => {
    expect(await findCertificate(use.bench.db, "nothing")).toBeNull();
  });
});

describe("what is due, as a calendar", () => {
  const parsed = (text: string) =>
    new ICAL.Component(ICAL.parse(text)).getAllSubcomponents("vevent").map((e) => new ICAL.Event(e));

  it("is read by an independent parser, each entry with its id and its address", async () => {
    const { db } = use.bench;
    await calibratedPond(use.bench);
    await pondReading(use.bench, { conductivity: 600, ph: -62, oxygen: 85 }, "2026-04-12T09:00:00.000Z");
    const now = "2026-04-12T10:10:00.000Z";
    const due = await dueList(db, now);
    const events = parsed(dueCalendar(due, now, "http://bench.example"));
    expect(events.map((e) => e.summary)).toEqual(due.map((d) => d.title));
    expect(events.map((e) => e.summary)).toContain("Closing check of M-1");
    const closing = events.find((e) => e.summary === "Closing check of M-1");
    expect(closing?.startDate.toJSDate().toISOString()).toBe("2026-04-12T17:00:00.000Z");
    const calibrate = events.find((e) => e.summary === "Calibrate P-2");
    expect(calibrate?.startDate.toJSDate().toISOString()).toBe("2026-04-12T10:00:00.000Z");
    expect(new Set(events.map((e) => e.uid)).size).toBe(events.length);
    expect(dueCalendar(due, now, "http://bench.example")).toContain("http://bench.example/meters/");
  });

  it("names nobody", async () => {
    const text = dueCalendar(await dueList(use.bench.db, testNow), testNow, "http://bench.example");
    expect(text).not.toContain("Noor");
  });
});
