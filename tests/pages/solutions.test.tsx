import { describe, expect, it } from "vitest";
import { z } from "zod";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import { calculatorGroups, calculators } from "../../core/calculators/registry";
import { Visitor } from "./pages";

const hands = benchForEachTest();
const visitor = () => new Visitor(hands.bench);
const withInputs = (id: string, inputs: object) =>
  visitor().open(`/solutions/${id}?with=${encodeURIComponent(JSON.stringify(inputs))}`);

describe("the page of all calculators", () => {
  it("lists each once, under what it is about", async () => {
    const { text, html } = await visitor().open("/solutions");
    for (const group of calculatorGroups) expect(text).toContain(group.title);
    for (const { id } of calculators) expect(html.split(`href="/solutions/${id}"`)).toHaveLength(2);
  });
});

describe("a calculator's page", () => {
  it("stands with the result of what its address carries", async () => {
    const { text, html } = await withInputs("dilution", { c1: 200, c2: 10, v2: 50 });
    // As it is written by hand: what is divided over what it is divided by, and once more in a plain line for who hears it.
    expect(text).toContain("= 10.00 · 50.00 200.0 = 2.500 mL");
    expect(html).toMatch(/<mfrac>.*10\.00.*50\.00.*200\.0.*<\/mfrac>/);
    expect(html).toContain('alttext="= 10.00 · 50.00 / 200.0"');
    // What was worked out stands before what was put in.
    expect(text.indexOf("2.500 mL")).toBeLessThan(text.indexOf("200.0 Strength of the stock"));
  });

  it("names an output that is an input as the input is named, with its unit", async () => {
    const { text } = await withInputs("dilution", { c1: 200, c2: 10, v2: 50 });
    expect(text).toContain("Volume of the stock");
    expect(text).not.toMatch(/\bv1\b/);
  });

  it("shows what was put in and no result where none follows", async () => {
    const { text, html } = await withInputs("purge", {
      depth_m: 4,
      water_level_m: 9,
      diameter_mm: 150,
      flow_l_s: 1,
    });
    expect(html).toContain('value="9"');
    expect(text).toContain("Fill in the numbers: the result stands here.");
  });

  it.each(["{", "[]", "7", '"text"', "null"])(
    "takes an address that carries %s for its example",
    async (inputs) => {
      const { status, text } = await visitor().open(`/solutions/purge?with=${encodeURIComponent(inputs)}`);
      expect(status).toBe(200);
      expect(text).toContain("530.1 L");
    },
  );

  it.each(calculators.filter((c) => !c.searches).map((c) => [c.id, c] as const))(
    "%s shows a result or none at the ends of what may be typed, and no number that is none",
    async (id, { inputSchema, example }) => {
      const { properties = {} } = z.toJSONSchema(inputSchema, { io: "input" }) as {
        properties?: Record<string, { type?: string; minimum?: number; maximum?: number }>;
      };
      const numbers = Object.entries(properties).filter(([, s]) => s.type === "number");
      for (const end of ["minimum", "maximum"] as const) {
        const at = Object.fromEntries(numbers.map(([key, s]) => [key, s[end] ?? example[key]]));
        const { status, text } = await withInputs(id, { ...example, ...at });
        expect([status, /NaN|Infinity|undefined|\[object/.exec(text)?.[0]]).toEqual([200, undefined]);
        expect(text).toMatch(/Working|Fill in the numbers/);
      }
      // What stands there without an address, its own numbers in the address bring back; the clock above it goes on.
      const plain = await visitor().open(`/solutions/${id}`);
      const ofTask = (whole: string) => whole.slice(whole.indexOf("as a calendar"));
      expect(ofTask((await withInputs(id, example)).text)).toBe(ofTask(plain.text));
      expect(plain.text).toContain("Working");
    },
  );

  it("gives tables of results first, and sentences behind the numbers", async () => {
    const curve = (await visitor().open("/solutions/absorbance-curve")).text;
    expect(curve.indexOf("0.7360")).toBeLessThan(curve.indexOf("slope"));
    const line = (await visitor().open("/solutions/ph-calibration")).text;
    expect(line.indexOf("−57.19")).toBeLessThan(line.indexOf("The buffers are 3.02 pH apart."));
  });

  it("does not search for seconds before anybody asked", async () => {
    expect((await visitor().open("/solutions/stagger")).text).toContain("the result stands here");
  });
});

describe("the dilution planner", () => {
  it("begins with what its address asks for, and with nothing of a run that is none", async () => {
    const page = await visitor().open("/solutions/planner?stock=500&targets=5;10&volume=50");
    expect(page.html).toContain('value="5;10"');
    expect(page.text).toContain("Say what is wanted, and leave out what is not clean.");
    expect((await visitor().open("/solutions/planner?run=01HZZZZZZZZZZZZZZZZZZZZZZZ")).status).toBe(200);
  });
});
