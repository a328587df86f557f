import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import * as runner from "../../app/server/results/rejudgeRunner.server";
import { findLot, lotsOfCodes } from "../../app/server/stock/lots.server";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import { type Fields, Visitor } from "./pages";
import { runWith } from "./runWith";

const hands = benchForEachTest("own");
const visitor = () => new Visitor(hands.bench);

/** The re-judgings that a page began. */
const begun: string[] = [];
beforeEach(() => {
  begun.length = 0;
  vi.spyOn(runner, "startRejudging").mockImplementation((id) => void begun.push(id));
});
afterEach(() => {
  vi.restoreAllMocks();
});

const shelf = {
  received_on: "2026-01-01",
  expires_on: "2031-01-01",
  opened_on: "2026-02-03",
  shelf_life_open_days: "90",
  size: "500",
  portion: "12.5",
  place: "drawer 1",
  hazard: ["harmful"],
};
const kit = {
  ...shelf,
  kind: "kit",
  name: "Tubes of ours",
  unit: "tests",
  kit_source: "leaflet, edition 2",
};

/** A lot of each kind that is written down in another way. */
const lots: Record<string, Fields> = {
  "a buffer with a table of its own": {
    ...shelf,
    kind: "ph-buffer",
    material: "technical-7",
    uncertainty: "0.02",
    value_25: "7.003",
    value_20: "7.021",
  },
  "a conductivity standard": {
    ...shelf,
    kind: "conductivity-standard",
    value: "1413",
    percent_per_c: "2.1",
    uncertainty: "7",
  },
  "a redox standard": {
    ...shelf,
    kind: "redox-standard",
    material: "quinhydrone-7",
    reference: "agcl-sat",
    uncertainty: "5",
  },
  "a standard with a name of its own": {
    ...shelf,
    kind: "concentration-standard",
    name: "Nitrate of the house",
    value: "0.35",
    uncertainty: "0.005",
  },
  "a titrant": {
    ...shelf,
    kind: "titrant",
    name: "Thiosulfate",
    serves: "Sodium thiosulfate 0.025 N",
    strength: "0.02508",
    strength_u: "0.00003",
    strength_unit: "N",
    unit: "mL",
  },
  "a reagent that is strong in something": {
    ...shelf,
    kind: "reagent",
    name: "Nitrate stock",
    serves: ["Starch indicator", "Something of ours"],
    strength: "100",
    strength_u: "0.4",
    strength_unit: "mg/L",
    strength_of: "NO3-N",
    unit: "mL",
  },
  "a chemical": {
    ...shelf,
    kind: "chemical",
    name: "Thiosulfate to weigh",
    formula: "Na2S2O3·5H2O",
    purity_percent: "99.5",
    unit: "g",
  },
  "a kit with its scale": {
    ...kit,
    kit_method: "nitrate-tube",
    kit_scale: "0, 1, 3, 6, 12.5, 20",
    kit_given_as: "NO3-N",
    kit_low: "0.5",
    kit_high: "20",
  },
  "a kit with what a drop is": { ...kit, kit_method: "oxygen-drops", kit_per_unit: "0.25" },
};

/** What a browser would send of a page's form, as it stands there. */
function standingIn(html: string): Fields {
  const read = (text: string) =>
    text
      .replace(/&#x27;/g, "'")
      .replace(/&quot;/g, '"')
      .replace(/&amp;/g, "&");
  const [, form = ""] = html.split("<main")[1]?.split("<form") ?? [];
  const fields: Record<string, string[]> = {};
  for (const [input = ""] of form.matchAll(/<input [^>]*>/g)) {
    const name = /name="([^"]*)"/.exec(input)?.[1];
    if (name) fields[name] = [...(fields[name] ?? []), read(/value="([^"]*)"/.exec(input)?.[1] ?? "")];
  }
  for (const [, name = "", text = ""] of form.matchAll(/<textarea [^>]*name="([^"]*)"[^>]*>([^<]*)</g))
    fields[name] = [read(text)];
  return fields;
}

async function registered(fields: Fields): Promise<string> {
  const sent = await visitor().send("/stock/new", { code: "X-1", ...fields });
  if (!sent.location?.startsWith("/stock/")) throw new Error(sent.text);
  return sent.location.slice("/stock/".length);
}
const lotOf = async (id: string) => (await findLot(hands.bench.db, id))?.lot;

describe("a lot that was written wrong", () => {
  it.each(Object.entries(lots))("stands in the form as it was written: %s", async (_, fields) => {
    const id = await registered(fields);
    const page = await visitor().open(`/stock/${id}/correct`);
    const form = standingIn(page.html);
    // Sent as it stands, nothing has been corrected.
    const same = await visitor().send(`/stock/${id}/correct`, { ...form, reason: "none" });
    expect([same.location, same.text]).toEqual([`/stock/${id}`, ""]);
    expect((await findLot(hands.bench.db, id))?.version).toBe(1);
    const before = await lotOf(id);
    await visitor().send(`/stock/${id}/correct`, { ...form, expires_on: "2027-03-01", reason: "misread" });
    expect(await lotOf(id)).toEqual({ ...before, expires_on: "2027-03-01" });
    const after = await visitor().open(`/stock/${id}`);
    expect(after.text).toContain("misread (expires: 1 Mar 2027, not 1 Jan 2031)");
  });

  it("says at each field what is wrong, and loses nothing that was typed", async () => {
    const id = await registered(lots["a conductivity standard"] ?? {});
    const form = standingIn((await visitor().open(`/stock/${id}/correct`)).html);
    const wrong = { ...form, value: "many", expires_on: "soon", reason: "" };
    const refused = await visitor().send(`/stock/${id}/correct`, wrong);
    expect(refused.status).toBe(422);
    expect(refused.text).toContain("Say how it came to be written wrong.");
    expect(refused.text.split("Not corrected yet.")[1]).toContain("many");
    expect((await findLot(hands.bench.db, id))?.version).toBe(1);
  });

  it("keeps its value once it was used, says why, and asks for its days alone", async () => {
    const id = await registered({
      ...kit,
      code: "NT-6",
      shelf_life_open_days: "",
      kit_method: "nitrate-tube",
      kit_scale: "0, 1, 3, 6, 12, 20",
    });
    await runWith(hands.bench, "nitrate-tube", { "lot-tube": "NT-6" }, 6);
    const page = await visitor().open(`/stock/${id}/correct`);
    expect(page.text).toContain("one piece of work was reckoned with them");
    expect(page.html).not.toContain('name="kit_scale"');
    const form = standingIn(page.html);
    await visitor().send(`/stock/${id}/correct`, {
      ...form,
      size: "25",
      opened_on: "",
      reason: "counted again",
    });
    expect(await lotOf(id)).toMatchObject({ size: 25, kit: { method: "nitrate-tube" } });
    expect(begun).toHaveLength(1);
    const following = await visitor().open(`/stock/${id}`);
    expect(following.text).toContain("Re-judging the readings …");
    // A page that was open before it was used asks in vain.
    const [stored] = await lotsOfCodes(hands.bench.db, ["NT-6"]);
    const old = {
      ...kit,
      code: "NT-7",
      version: String(stored?.version),
      reason: "x",
      kit_method: "nitrate-tube",
    };
    const late = await visitor().send(`/stock/${id}/correct`, { ...old, kit_scale: "0, 1" });
    expect(late.text).toContain("withdraw the bottle");
  });

  it("is there, or nothing is", async () => {
    expect((await visitor().open("/stock/none/correct")).status).toBe(404);
    expect((await visitor().send("/stock/none/correct", { reason: "x" })).status).toBe(404);
  });
});

describe("a lot that was taken off the shelf by mistake", () => {
  it("stands on it again", async () => {
    const id = await registered(lots["a chemical"] ?? {});
    await visitor().send(`/stock/${id}`, { do: "discard", stream: "general" });
    expect((await visitor().open(`/stock/${id}`)).text).toContain("It was not thrown away");
    const back = await visitor().send(`/stock/${id}`, { do: "keep" });
    expect(back.text).toContain("It is empty, or is thrown away");
    expect((await lotOf(id))?.discarded).toBeNull();
  });

  it("is not withdrawn any more, for a reason", async () => {
    const id = await registered(lots["a titrant"] ?? {});
    await visitor().send(`/stock/${id}`, { do: "withdraw", reason: "cloudy" });
    const without = await visitor().send(`/stock/${id}`, { do: "take-back", reason: "" });
    expect([without.status, without.text.includes("Say why it may be used after all.")]).toEqual([422, true]);
    const long = await visitor().send(`/stock/${id}`, { do: "take-back", reason: "x".repeat(201) });
    expect(long.text).toContain("under 201 characters");
    const back = await visitor().send(`/stock/${id}`, { do: "take-back", reason: "The one beside it." });
    expect(back.text).toContain("The one beside it.");
    expect((await lotOf(id))?.withdrawn).toBeNull();
    expect((await visitor().open(`/stock/${id}`)).text).toContain("Withdraw this lot");
    expect(begun).toHaveLength(1);
  });
});
