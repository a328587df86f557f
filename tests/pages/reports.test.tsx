import { beforeEach, describe, expect, it } from "vitest";
import { changeRules, rulesInForce } from "../../app/server/rules/rules.server";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import { partsOfPdf, textOfPdf } from "../../app/server/testing/pdfText";
import { calibratedPh, calibratedPond, phReading, pondReading } from "../../app/server/testing/testBench";
import { Visitor } from "./pages";

const hands = benchForEachTest();
const noor = () => new Visitor(hands.bench);
const at = (day: number, h = 9) =>
  `2026-04-${String(day).padStart(2, "0")}T${String(h).padStart(2, "0")}:00:00.000Z`;
const site = (more = "") => `/sites/${hands.bench.site.id}/report${more}`;
const april = "?from=2026-04-01&to=2026-04-30";

beforeEach(async () => {
  const { bench } = hands;
  for (const [i, mv] of [-40, -50, -62, 420].entries()) {
    await calibratedPh(bench, at(12 + i, 8));
    await phReading(bench, mv, at(12 + i), `BP-${i}`);
  }
  await calibratedPond(bench, at(16, 8));
  await pondReading(bench, { conductivity: 640, ph: -60, oxygen: 60 }, at(16), "BP-5");
});

describe("the report of a site", () => {
  it("has every quantity in figures and in time, and every result with its verdict", async () => {
    const { text, html } = await noor().open(site(april));
    expect(text).toContain("Bathing pond");
    expect(text).toContain("1 Apr 2026 to 30 Apr 2026");
    // Five pH readings; the middle one of 0.0, 7.68, 7.85, 8.01, 8.05 by perfect electrodes (59.16 mV a unit at 25 °C).
    expect(text).toMatch(/pH – 5 \S+ 7\.8\d 8\.0\d/);
    expect(text).toContain("Conductivity");
    expect(text).toContain("BP-5");
    expect(html).toContain("report-plot");
    // What is drawn is said in words too.
    expect(html).toMatch(/aria-label="pH, 5 results from 1 Apr 2026 to 30 Apr 2026: between/);
  });

  it("is of the days that are asked for, also the wrong way round; of the last twelve weeks where they are none", async () => {
    expect((await noor().open(site("?from=2026-04-13&to=2026-04-12"))).text).toContain(
      "12 Apr 2026 to 13 Apr 2026",
    );
    expect((await noor().open(site("?from=2026-04-13&to=2026-04-12"))).text).not.toContain("BP-2");
    // Oxygen was measured three days later: it is held against no limit of these days.
    expect((await noor().open(site("?from=2026-04-13&to=2026-04-12"))).text).not.toContain(
      "Dissolved oxygen",
    );
    expect((await noor().open(site("?from=2020-01-01&to=2020-02-01"))).text).toContain(
      "Nothing was measured here",
    );
    expect((await noor().open(site("?from=x&to=y"))).status).toBe(200);
    expect((await noor().open("/sites/nowhere/report")).status).toBe(404);
  });

  it("is a PDF with the same figures, whose parts can be read out", async () => {
    await hands.bench.db("sites").update({ limit_sets: "[]" });
    const { bytes, headers } = await noor().ask(`${site(".pdf")}${april}`);
    expect(headers.get("Content-Type")).toBe("application/pdf");
    const text = (await textOfPdf(bytes)).join(" ");
    for (const words of ["Bathing pond", "BP-5", "In time", "Smallest"]) expect(text).toContain(words);
    const parts = await partsOfPdf(bytes);
    expect(parts).toMatchObject({ lang: "en", marked: true, title: "Bathing pond" });
    const count = (role: string) => parts.roles.filter((r) => r === role).length;
    expect(count("H1")).toBe(1);
    expect(count("H2")).toBeGreaterThanOrEqual(3);
    expect(count("Figure")).toBe(1);
    expect(parts.alts[0]).toContain("pH, 5 results");
    // Figures: three quantities and the saturation; results: four, three and the saturation; each table with its head.
    expect(count("Table")).toBe(2);
    expect(count("TR")).toBe(1 + 4 + 1 + 8);
    expect(count("TH")).toBe(7 + 6);
    expect(count("TD")).toBe(4 * 7 + 8 * 6);
  });
});

describe("papers of before", () => {
  it("say what their parts are too", async () => {
    const work = await calibratedPh(hands.bench, at(20, 8));
    const { bytes } = await noor().ask(`/calibrations/${work}/certificate.pdf`);
    const { roles, marked } = await partsOfPdf(bytes);
    expect(marked).toBe(true);
    for (const role of ["H1", "H2", "L", "LBody", "Table", "TH", "P"]) expect(roles).toContain(role);
  });
});

describe("a house that writes decimals with a comma", () => {
  it("has them on its papers and drawings, and nowhere that programs read", async () => {
    const { db, person } = hands.bench;
    const { version, rules } = await rulesInForce(db);
    await changeRules(db, version, { ...rules, decimal_mark: "comma" }, "as we write", person, at(20));
    const { text, html } = await noor().open(site(april));
    expect(text).toMatch(/pH – 5 \S+ 7,8\d 8,0\d/);
    expect(html).toMatch(/<text[^>]*>\d,\d/);
    expect(text).not.toMatch(/\d\.\d/);
    const { bytes } = await noor().ask(`${site(".pdf")}${april}`);
    const pdf = (await textOfPdf(bytes)).join(" ");
    expect(pdf).toMatch(/8,0\d/);
    expect(pdf).not.toMatch(/\d\.\d/);
    const work = (await db("calibrations").first("work_id")).work_id;
    expect((await noor().open(`/calibrations/${work}/certificate`)).text).toMatch(/\d,\d/);
    expect((await noor().ask("/ledger/export.csv")).body).toMatch(/,8\.0\d/);
  });
});
