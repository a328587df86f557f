import { describe, expect, it } from "vitest";
import { verifyJournal } from "../bench/verifyJournal.server";
import { fieldErrors } from "../platform/forms.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { testNow } from "../testing/testBench";
import { changeSite, moveSite, siteChangeFromForm } from "./siteChanges.server";
import { addSite, findSite, sitesInUse } from "./sites.server";

const use = benchForEachTest();

/** A form as the page of a site sends it. */
function filled(change: Record<string, string> = {}) {
  const form = new FormData();
  for (const [name, value] of Object.entries({
    name: "Settling basin",
    water: "pond",
    altitude_m: "",
    ...change,
  }))
    form.set(name, value);
  return siteChangeFromForm(form);
}
const read = (change?: Record<string, string>) => {
  const parsed = filled(change);
  if (!parsed.success) throw new Error(JSON.stringify(fieldErrors(parsed.error)));
  return parsed.data;
};
const refused = (change: Record<string, string>) => {
  const parsed = filled(change);
  return parsed.success ? {} : fieldErrors(parsed.error);
};
const second = () =>
  addSite(
    use.bench.db,
    {
      name: "North reed bed",
      water: "reed bed",
      ph_low: 7,
      ph_high: 8,
      conductivity_low: null,
      conductivity_high: null,
      altitude_m: null,
    },
    use.bench.person,
    testNow,
  );

describe("what is expected of a site", () => {
  it("is changed, written down before and after, and emptied by leaving both ends empty", async () => {
    const { db, site, person } = use.bench;
    const change = read({
      "expected.ph.low": "6,9",
      "expected.ph.high": "8.4",
      "expected.oxygen.low": "5",
      "expected.oxygen.high": "12 mg/L",
    });
    expect(await changeSite(db, site.id, change, person, testNow)).toBe("changed");
    expect((await findSite(db, site.id))?.expected).toEqual({
      ph: { low: 6.9, high: 8.4 },
      oxygen: { low: 5, high: 12 },
    });
    await changeSite(db, site.id, read(), person, testNow);
    expect((await findSite(db, site.id))?.expected).toEqual({});
    const entry = await db("journal")
      .where({ action: "site changed" })
      .orderBy("seq")
      .first("before", "after");
    expect(JSON.parse(entry.before).expected).toEqual(site.expected);
    expect(JSON.parse(entry.after).name).toBe("Settling basin");
    expect(await verifyJournal(db)).toBeNull();
  });

  it("is refused with a sentence at its field", () => {
    expect(refused({ "expected.ph.low": "6.9" })).toEqual({
      "expected.ph.high": "Give both ends, or neither.",
    });
    expect(refused({ "expected.ph.low": "9", "expected.ph.high": "8" })).toEqual({
      "expected.ph.high": "The upper end of the range must be above the lower end.",
    });
    expect(refused({ "expected.conductivity.low": "-5", "expected.conductivity.high": "800" })).toEqual({
      "expected.conductivity.low": "Not below 0.",
    });
    expect(refused({ "expected.redox.low": "a lot", "expected.redox.high": "400" })).toHaveProperty([
      "expected.redox.low",
    ]);
    expect(refused({ name: " " })).toEqual({ name: "Give the site a name." });
  });

  it("keeps two sites from bearing one name, and knows what is not there", async () => {
    const { db, person } = use.bench;
    const other = await second();
    expect(await changeSite(db, other?.id ?? "", read({ name: use.bench.site.name }), person, testNow)).toBe(
      "taken",
    );
    expect(await changeSite(db, "nowhere", read(), person, testNow)).toBe("gone");
    // Its own name it may keep.
    expect(await changeSite(db, other?.id ?? "", read({ name: "North reed bed" }), person, testNow)).toBe(
      "changed",
    );
  });

  it("is nothing for somebody who only reads", async () => {
    const { db, site, person } = use.bench;
    const reader = { ...person, role: "read-only" as const };
    await expect(changeSite(db, site.id, read(), reader, testNow)).rejects.toThrow();
  });
});

describe("the order of the water", () => {
  it("changes by one place, and stays as it is at its ends", async () => {
    const { db, site, person } = use.bench;
    const other = await second();
    const names = async () => (await sitesInUse(db)).map((s) => s.name);
    const before = await names();
    await moveSite(db, site.id, -1, person, testNow);
    expect(await names()).toEqual(before);
    await moveSite(db, other?.id ?? "", -1, person, testNow);
    expect(await names()).toEqual([...before].reverse());
    await moveSite(db, "nowhere", 1, person, testNow);
    expect(await names()).toEqual([...before].reverse());
  });
});
