import { describe, expect, it } from "vitest";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import { Visitor } from "./pages";

const hands = benchForEachTest();
const visitor = () => new Visitor(hands.bench);
const text = [
  "Station;Date;pH;EC (mS/cm);Remarks",
  "Bathing pond;12.03.2026;7,42;0,61;calm",
  "Bathing pond;13.03.2026;<script>;0,62;",
  "Elsewhere;14.03.2026;7,4;0,6;",
].join("\n");
const brought = async () => (await visitor().send("/imports", { text })).location ?? "";
const map = (at: string, fields: Record<string, string> = {}) =>
  visitor().send(at, {
    do: "map",
    "column-site": "Station",
    "column-measured_at": "Date",
    dates: "day-first",
    site: "",
    ...fields,
  });

describe("bringing in results", () => {
  it("says what is missing, keeps what was pasted, and leads to the file", async () => {
    expect((await visitor().send("/imports", { text: " " })).text).toContain(
      "Choose a file, or paste its lines.",
    );
    const refused = await visitor().send("/imports", { text: "a,b\n1" });
    expect(refused.status).toBe(422);
    expect(refused.text).toContain("Line 2 has another number of columns");
    expect(refused.html).toContain("a,b\n1</textarea>");
    expect(await brought()).toMatch(/^\/imports\/\w{26}$/);
    expect((await visitor().open("/imports")).text).toContain("looked at, not taken over");
  });

  it("shows how each line is understood, and which cannot be taken and why, without keeping anything", async () => {
    const at = await brought();
    expect((await map(at, { dates: "year-first" })).location).toBe(at);
    expect((await visitor().open(at)).text).toContain("is not a date in the order chosen");
    expect((await map(at)).location).toBe(at);
    const page = await visitor().open(at);
    expect(page.text).toContain("3 results can be taken over, 2 cannot");
    expect(page.text).toContain("610 µS/cm");
    expect(page.text).toContain("“<script>” is not a number.");
    expect(page.html).not.toContain("“<script>");
    expect(page.text).toContain("No site is called “Elsewhere” here.");
    expect(await hands.bench.db("readings")).toEqual([]);
    expect((await map(at, { dates: "whenever" })).text).toContain(
      "This choice of columns is not known here.",
    );
  });

  it("takes over, shows it in the ledger with its evidence, and takes it out again with a reason", async () => {
    const at = await brought();
    await map(at);
    expect((await visitor().send(at, { do: "take" })).text).toContain("Some lines cannot be taken over.");
    expect((await visitor().send(at, { do: "take", partly: "on" })).location).toBe(at);
    expect((await visitor().open(at)).text).toContain("3 results taken over");
    const id = `${at.split("/")[2]}-2`;
    const panel = (await visitor().open(`/ledger?reading=${id}`)).text;
    for (const words of [
      "Brought in from a file",
      "As written 7,42",
      "pasted lines",
      "not said",
      "Its record",
    ])
      expect(panel).toContain(words);
    expect((await visitor().open(`/records/${id}`)).text).toContain("Amend it");
    expect((await visitor().send(at, { reason: "" })).text).toContain("Say why it is taken out.");
    expect((await visitor().send(at, { reason: "x".repeat(201) })).status).toBe(422);
    expect((await visitor().send(at, { reason: "wrong site" })).location).toBe(at);
    expect((await visitor().open(at)).text).toContain("All of it was taken out again");
    expect((await visitor().open(`/ledger?reading=${id}`)).text).toContain("Taken out by Noor: wrong site");
  });

  it("puts a file away, and knows nothing of one that is not there", async () => {
    const at = await brought();
    expect((await visitor().send(at, { do: "drop" })).location).toBe("/imports");
    expect((await visitor().open(at)).status).toBe(404);
  });
});
