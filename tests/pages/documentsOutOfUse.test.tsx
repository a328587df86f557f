import { describe, expect, it } from "vitest";
import { rightOfRoute } from "../../app/server/platform/rights.server";
import { limitQuantities } from "../../app/server/rules/limitForm.server";
import { addSite } from "../../app/server/sites/sites.server";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import { testNow } from "../../app/server/testing/testBench";
import { allTemplates, keepTemplate } from "../../app/server/visits/templates.server";
import { noPlan } from "../../core/samples/visitEvents";
import { recipes } from "../../core/stock/recipes";
import { Visitor } from "./pages";

const hands = benchForEachTest();
const manager = () => new Visitor(hands.bench, { ...hands.bench.person, role: "manager" });
const visitor = () => new Visitor(hands.bench, { ...hands.bench.person, role: "technician" });
const reason = "We buy it ready made.";
const actionsOf = (subject_kind: string) =>
  hands.bench.db("journal").where({ subject_kind }).orderBy("seq").pluck("action");

/** Takes it out of use on its page: without a reason not, twice once. */
async function takeOut(path: string, by = manager()) {
  const refused = await by.send(path, { reason: "  " });
  expect([refused.status, refused.text.includes("Say why it is used no more.")]).toEqual([422, true]);
  await by.send(path, { reason });
  await by.send(path, { reason: "again" });
}

describe("a recipe that is made no more", () => {
  it("leaves the list, is not begun, says why on its page, and is made again", async () => {
    const its = `/stock/prepare?recipe=${recipes[0]?.id}`;
    const picks = async () =>
      (await visitor().open("/stock/prepare")).html.match(/<a[^>]*class="pick"[^>]*>/g)?.join(" ");
    expect(await picks()).toContain(`"${its}"`);
    await takeOut(its);
    expect(await picks()).not.toContain(`"${its}"`);
    const list = await visitor().open("/stock/prepare");
    expect(list.text).toContain("No longer made here");
    expect(list.text).toContain(reason);
    const page = await visitor().open(its);
    expect(page.text).toContain(`Noor: ${reason}`);
    expect(page.html).not.toContain('name="volume_ml"');
    // Who only tests sees it, and takes it neither out nor in.
    expect(page.text).not.toContain("Take it into use again");
    // From a page that was open before.
    const late = await visitor().send(its, { volume_ml: "100" });
    expect([late.status, late.text.includes("This recipe is out of use. Nothing was begun.")]).toEqual([
      422,
      true,
    ]);
    await manager().send(its, { do: "use" });
    expect(await picks()).toContain(`"${its}"`);
    expect(await actionsOf("recipe")).toEqual(["recipe out of use", "recipe in use again"]);
  });
});

describe("a type of bottle that is filled no more", () => {
  it("is offered neither to visits nor to what is received, and is changed and filled again", async () => {
    await takeOut("/bottles/general");
    const list = await visitor().open("/bottles");
    expect(list.text).toContain("No longer filled here");
    for (const page of ["/visits", "/samples/new"])
      expect((await visitor().open(page)).text).not.toContain("General, nothing added");
    expect((await manager().open("/bottles/general")).text).toContain(`Noor: ${reason}`);
    await manager().send("/bottles/general", { do: "use" });
    expect((await visitor().open("/visits")).text).toContain("General, nothing added");
    expect(await actionsOf("bottle-type")).toEqual(["bottle-type out of use", "bottle-type in use again"]);
  });
});

describe("a list of visits that is used no more", () => {
  it("is offered nowhere, and is in use again when it is kept again", async () => {
    const { db, person } = hands.bench;
    const keep = () => keepTemplate(db, "Winter", { ...noPlan, air: true }, person, testNow);
    const { id } = await keep();
    const path = `/visits?template=${id}`;
    await takeOut(path, visitor());
    expect((await visitor().open("/visits/rounds/new")).text).not.toContain("Winter");
    const { text } = await visitor().open("/visits");
    expect(text).toContain("Lists that are used no more");
    expect((await visitor().open(path)).text).toContain("This list is offered nowhere.");
    await keep();
    expect((await allTemplates(db)).map((t) => [t.version, t.out_of_use])).toEqual([[1, null]]);
    expect((await visitor().open("/visits")).text).not.toContain("Lists that are used no more");
  });
});

describe("limits", () => {
  const page = "/sites/limits";
  const permit = {
    name: "Our permit",
    authority: "the water authority, 2025",
    "low-0": "6,5",
    "high-0": "9",
    "kind-0": "limit",
  };
  /** The place of a quantity in the choices of a row. */
  async function placeOf(label: string): Promise<string> {
    return String((await limitQuantities(hands.bench.db)).findIndex((q) => q.label === label));
  }

  it("say what each set holds, and where; those of one's own are written without a document", async () => {
    expect((await visitor().open(page)).text).toContain("Drinking water");
    const ph = await placeOf("pH");
    for (const [fields, sentence] of [
      [{ name: "" }, "Give the set a name."],
      [{ name: "…" }, "Give it a name with letters or figures."],
      [{ authority: "" }, "Say whose limits they are."],
      [{ "of-0": "" }, "A set has at least one limit."],
      [{ "low-0": "six" }, "“six” is not a number."],
      [{ "low-0": "", "high-0": "" }, "The limit of pH has neither a lower nor an upper end."],
      [{ "low-0": "9.5" }, "The limit of pH ends below where it begins: 9.5 to 9."],
      [{ name: "Drinking water" }, "A set of this name is there already: give yours another."],
    ] as const) {
      const refused = await manager().send(page, { ...permit, "of-0": ph, ...fields });
      expect(refused.status).toBe(422);
      expect(refused.text).toContain(sentence);
    }
    const kept = await manager().send(page, { ...permit, "of-0": ph });
    expect(kept.location).toBe(`${page}/our-permit`);
    expect((await manager().send(page, { ...permit, "of-0": ph })).location).toBe(kept.location);
    const { text } = await visitor().open(`${page}/our-permit`);
    expect(text).toContain("at least 6.5, at most 9");
    expect(text).toContain("no site yet");
    expect(text).toContain("At no site: it is chosen on the page of a site.");
  });

  it("that are used no more are offered to no other site, and hold where they do until they are let go", async () => {
    const { site } = hands.bench;
    const its = `${page}/drinking-water`;
    expect((await visitor().open(its)).text).toContain(site.name);
    await takeOut(its);
    expect((await visitor().open(page)).text).toContain("No longer used");
    const chosen = (html: string) => html.includes('value="drinking-water"');
    const before = await visitor().open(`/sites/${site.id}`);
    expect([chosen(before.html), before.text.includes("out of use")]).toEqual([true, true]);
    await manager().send(`/sites/${site.id}`, { do: "limits", set: "aquatic-life" });
    expect(chosen((await visitor().open(`/sites/${site.id}`)).html)).toBe(false);
    // Nor is it chosen again from a page that was open before.
    await manager().send(`/sites/${site.id}`, { do: "limits", set: "drinking-water" });
    expect(chosen((await visitor().open(`/sites/${site.id}`)).html)).toBe(false);
    // A new site begins with those in use.
    const { db, person } = hands.bench;
    const water = {
      water: "fresh",
      altitude_m: 10,
      ph_low: 6,
      ph_high: 9,
      conductivity_low: null,
      conductivity_high: null,
    };
    const added = await addSite(db, { name: "New drain", ...water }, person, testNow);
    expect(added?.limit_sets).toEqual(["aquatic-life", "fish-water", "secondary"]);
    await manager().send(its, { do: "use" });
    expect(chosen((await visitor().open(`/sites/${site.id}`)).html)).toBe(true);
  });

  it("are nobody's to change who only tests, and none that is not there", async () => {
    expect((await visitor().open(page)).text).not.toContain("Limits of your own");
    expect((await visitor().open(`${page}/secondary`)).text).not.toContain("used no more");
    expect([page, `${page}/secondary`].map(rightOfRoute)).toEqual(["rules", "rules"]);
    expect((await manager().open(`${page}/none`)).status).toBe(404);
    expect((await manager().send(`${page}/none`, { reason })).status).toBe(404);
  });
});
