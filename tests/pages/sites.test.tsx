import { describe, expect, it } from "vitest";
import { complianceOf } from "../../app/server/sites/compliance.server";
import { addSite } from "../../app/server/sites/sites.server";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import { calibratedPh, phReading, testNow } from "../../app/server/testing/testBench";
import { limitSets } from "../../core/rules/limitSets";
import { Visitor } from "./pages";

const hands = benchForEachTest();
const visitor = () => new Visitor(hands.bench);
const path = () => `/sites/${hands.bench.site.id}`;

describe("the page of a site", () => {
  it("says what to do where nothing was measured, and is not there for a site that is not", async () => {
    expect((await visitor().open(path())).text).toContain("Nothing was measured here yet.");
    expect((await visitor().open("/sites/nowhere")).status).toBe(404);
  });

  it("shows its newest values with their verdicts, and what they mean by its limits", async () => {
    await calibratedPh(hands.bench);
    await phReading(hands.bench, -118.3);
    const { text, html } = await visitor().open(path());
    expect(text).toContain("Nothing of it has a value in the last twelve weeks.");
    expect(text).toContain("above the guideline");
    expect(html).toContain('aria-current="true"');
    const day = await visitor().open("/");
    expect(day.text).toContain("above the guideline");
    // Whose limits do not hold here say nothing here.
    await visitor().send(path(), { do: "limits", set: "drinking-water" });
    expect((await visitor().open(path())).text).not.toContain("above the guideline");
  });

  it("keeps what is expected, and gives a refusal back at its field", async () => {
    const refusal = await visitor().send(path(), {
      do: "keep",
      name: "Pond",
      water: "pond",
      altitude_m: "",
      "expected.ph.low": "seven",
      "expected.ph.high": "8",
    });
    expect(refusal.status).toBe(422);
    const kept = await visitor().send(path(), {
      do: "keep",
      name: "Upper pond",
      water: "pond",
      altitude_m: "150",
      "expected.ph.low": "7,1",
      "expected.ph.high": "8",
    });
    expect(kept.text).toContain("Kept. It holds for what is measured from now on.");
    expect(kept.text).toContain("150 m above the sea");
    expect((await visitor().open("/sites")).text).toContain("7.1 – 8.0");
  });

  it("draws the ledger on request, once it is known what was measured", async () => {
    await calibratedPh(hands.bench);
    await phReading(hands.bench, -62);
    expect((await visitor().open("/ledger?chart=1")).text).toContain("Choose what was measured");
    const drawn = await visitor().open("/ledger?chart=1&parameter=ph");
    expect(drawn.text).not.toContain("Choose what was measured");
    expect(drawn.text).toContain("Without the chart");
    const none = await visitor().open("/ledger?chart=1&parameter=ph&to=2020-01-01");
    expect(none.text).toContain("Nothing that is filtered has a number to draw.");
  });

  it("gives the small lines of the day apart from the page", async () => {
    await calibratedPh(hands.bench);
    await phReading(hands.bench, -62);
    const { trends } = JSON.parse((await visitor().ask("/trends")).body);
    expect(Array.isArray(trends)).toBe(true);
  });
});

describe("one quantity along the water", () => {
  it("asks for measurements first, and then for a second site", async () => {
    expect((await visitor().open("/sites/along")).text).toContain("Nothing was measured yet.");
    await calibratedPh(hands.bench);
    await phReading(hands.bench, -62);
    const { text } = await visitor().open("/sites/along?of=ph%7CpH");
    expect(text).toContain("At least two sites need a value");
    expect(text).not.toContain("would be explained");
  });

  it("names the step between two neighbours, and where to measure next", async () => {
    const { db, person, site } = hands.bench;
    const lower = await addSite(
      db,
      {
        name: "Outfall",
        water: "stream",
        ph_low: 6,
        ph_high: 9,
        conductivity_low: null,
        conductivity_high: null,
        altitude_m: null,
      },
      person,
      testNow,
    );
    const at = (minutes: number) => new Date(Date.now() - 7_200_000 + minutes * 60_000).toISOString();
    if (!lower) throw new Error("No second site.");
    await calibratedPh(hands.bench, at(0));
    // Three readings at each place say how much it varies.
    for (const [i, mv] of [-62, -62.4, -61.7].entries()) await phReading(hands.bench, mv, at(10 + i));
    const upper = hands.bench.site;
    hands.bench.site = lower;
    for (const [i, mv] of [-20, -20.3, -19.8].entries()) await phReading(hands.bench, mv, at(20 + i));
    hands.bench.site = upper;
    const { text } = await visitor().open("/sites/along");
    expect(text).toContain("would be explained. Go upstream from Outfall and measure between the two.");
    expect(text).toMatch(/−0\.7\d/);
    expect(site.name).toBe(upper.name);
  });
});

describe("where a site lies", () => {
  const lies = (more: Record<string, string> = {}) => ({
    do: "place",
    latitude: "52.104",
    longitude: "-1.303",
    km: "0,4",
    branch: "",
    directions: "Past the gate.",
    well_depth_m: "",
    casing_mm: "",
    datum: "",
    datum_above_ground_m: "",
    pump: "",
    sample_point: "",
    ...more,
  });
  it("is kept, journaled, and shown along the water", async () => {
    expect((await visitor().send(path(), lies())).text).toContain("Where it lies is kept.");
    const { text, html } = await visitor().open(path());
    expect(text).toContain("km 0.4");
    expect(html).toContain("Past the gate.");
    const journal = await hands.bench.db("journal").where({ action: "site placed" });
    expect(journal).toHaveLength(1);
    await visitor().send(path(), lies());
    expect(await hands.bench.db("journal").where({ action: "site placed" })).toHaveLength(1);
  });

  it.each([
    [{ latitude: "95" }, "A latitude lies between"],
    [{ longitude: "" }, "Give both coordinates, or neither."],
    [{ km: "far" }, "“far” is not a number"],
    [{ casing_mm: "2" }, "At least 5 mm."],
  ])(
    "%j is refused with a sentence at its field, and what was typed stays known",
    async (wrong, sentence) => {
      const answer = await visitor().send(path(), lies(wrong as Record<string, string>));
      expect([answer.status, answer.text.includes(sentence)]).toEqual([422, true]);
      expect((await hands.bench.db("sites").first("place")).place).not.toContain("Past the gate.");
    },
  );

  it("goes out and comes in as GeoJSON: known sites are placed, others added, and twice is once", async () => {
    await visitor().send(path(), lies());
    const { body, headers } = await visitor().ask("/sites/sites.geojson");
    expect(headers.get("Content-Type")).toBe("application/geo+json");
    const file = JSON.parse(body);
    expect(file.features[0].geometry).toEqual({ type: "Point", coordinates: [-1.303, 52.104] });
    file.features[0].properties.km = 0.7;
    file.features.push({
      type: "Feature",
      geometry: null,
      properties: { name: "Mill tail", water: "river", branch: "Mill arm" },
    });
    const take = () => visitor().send("/sites", { geojson: JSON.stringify(file) });
    expect((await take()).text).toContain("1 site placed, 1 added.");
    expect((await take()).text).toContain("0 sites placed, 0 added.");
    expect((await visitor().open("/sites")).text).toContain("Mill arm");
    const broken = await visitor().send("/sites", { geojson: "{" });
    expect([broken.status, broken.text.includes("This is not JSON.")]).toEqual([422, true]);
  });
});

describe("photos of a site", () => {
  // The smallest JPEG there is says enough here; the browser makes real ones.
  const jpeg = (end = "") => `data:image/jpeg;base64,/9j/2wBDAP//${end}`;
  const hang = (image: string, caption = "Gate and casing") =>
    visitor().send(path(), { do: "photo", image, caption });

  it("hang there with what they show, once however often they are sent, and are taken down", async () => {
    const { db } = hands.bench;
    expect((await hang(jpeg())).text).toContain("The photo is kept.");
    await hang(jpeg());
    const { id } = await db("site_photos").first("id");
    expect(await db("site_photos").where({ site_id: hands.bench.site.id })).toHaveLength(1);
    const { headers, status } = await visitor().ask(`${path()}/photos/${id}`);
    expect([status, headers.get("Content-Type")]).toEqual([200, "image/jpeg"]);
    expect((await visitor().open(`/sites/elsewhere/photos/${id}`)).status).toBe(404);
    const down = () => visitor().send(path(), { do: "photo-down", photo: id });
    expect((await down()).text).not.toContain("Gate and casing");
    expect((await down()).status).toBe(200);
    expect((await db("journal").where({ subject_id: hands.bench.site.id })).map((e) => e.action)).toEqual(
      expect.arrayContaining(["photo added", "photo taken down"]),
    );
  });

  it.each([
    ["", "Gate", "Choose a photo first."],
    ["data:image/png;base64,iVBOR", "Gate", "A photo is a JPEG."],
    [jpeg(), " ", "Say what it shows."],
    [jpeg("A".repeat(150_000)), "Gate", "This picture is too large."],
  ])("are refused in words (%#)", async (image, caption, sentence) => {
    const answer = await hang(image, caption);
    expect([answer.status, answer.text.includes(sentence)]).toEqual([422, true]);
  });

  it("are six at most", async () => {
    for (const end of "ABCDEF") await hang(jpeg(end.repeat(4)));
    const seventh = await hang(jpeg("GGGG"));
    expect([seventh.status, seventh.text.includes("6 photos are what one site keeps.")]).toEqual([422, true]);
  });
});

describe("limits kept over time", () => {
  it("are counted with the dates on which they were not", async () => {
    const { db } = hands.bench;
    await calibratedPh(hands.bench);
    await phReading(hands.bench, -62);
    await phReading(hands.bench, -140);
    // The year is counted from the present day, the readings are of the test's own.
    const held = await complianceOf(db, hands.bench.site.id, limitSets, "2026-01-01T00:00:00.000Z");
    const ph = held.find((c) => c.analyte === "pH");
    expect(ph).toMatchObject({ measured: 2, times: 1, more: false });
    expect(ph?.beyond.map((b) => b.at)).toEqual(["2026-04-12T08:00:00.000Z"]);
  });
});
