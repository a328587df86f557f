import { ulid } from "ulid";
import { describe, expect, it } from "vitest";
import { pressStore } from "../../app/server/devices/devices.server";
import { changeRules, rulesInForce } from "../../app/server/rules/rules.server";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import { middayZone } from "./middayZone";
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
    const file = at.split("/")[2] ?? "";
    const id = `${file}-2`;
    // Its results, and no others, with the file's name among what is asked.
    const way = `/ledger?file=${file}`;
    expect((await visitor().open(at)).html).toContain(`href="${way}"`);
    const its = await visitor().open(way);
    expect(its.html.match(/reading=[^"&]+/g)?.every((link) => link.includes(file))).toBe(true);
    expect(its.text).toContain("pasted lines");
    expect((await visitor().open(`/ledger?file=${ulid()}`)).text).toContain("No such file");
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

describe("bringing in lots and methods", () => {
  const expires = `30.11.${new Date().getUTCFullYear() + 1}`;
  const shelf = [
    "Kind;Lot;Name;Received;Expires;Keeps;Uncertainty",
    `pH buffer;B7-310;Technical 7.00;01.04.2026;${expires};90;0.02`,
    `Soup;X;Lentils;01.04.2026;${expires};;`,
  ].join("\n");

  it("shows lots as they were understood, registers them, and takes them off the shelf again", async () => {
    const at = (await visitor().send("/imports", { text: shelf })).location ?? "";
    const page = await visitor().open(at);
    expect(page.text).toContain("1 lot can be taken over, 1 cannot");
    expect(page.text).toContain("“Soup” is no kind that is known here.");
    expect((await visitor().send(at, { do: "take" })).text).toContain("Some lines cannot be taken over.");
    expect((await visitor().send(at, { do: "take", partly: "on" })).location).toBe(at);
    expect((await visitor().open(at)).text).toContain("1 lot taken over");
    expect((await visitor().open("/stock")).text).toContain("B7-310");
    expect((await visitor().send(at, { do: "undo", reason: "wrong shelf" })).location).toBe(at);
    expect((await visitor().open(at)).text).toContain("All of it was taken out again");
    expect((await visitor().open("/stock")).text).not.toContain("B7-310");
  });

  it("is looked at as the other kind when somebody says so, and keeps another choice of columns", async () => {
    const at = (await visitor().send("/imports", { text: shelf })).location ?? "";
    await visitor().send(at, { do: "results" });
    expect((await visitor().open(at)).text).toContain("Say which column names the site");
    await visitor().send(at, { do: "lots" });
    const chosen = { do: "map", "column-kind": "Kind", "column-code": "Lot", dates: "day-first" };
    expect((await visitor().send(at, chosen)).location).toBe(at);
    expect((await visitor().open(at)).text).toContain("Say which column says when it expires.");
    expect((await visitor().send(at, { ...chosen, dates: "never" })).text).toContain(
      "This choice of columns is not known here.",
    );
  });

  it("keeps methods for who may change them, and lets nobody else press", async () => {
    const document = await visitor().ask("/methods/ph-vial/export.json");
    const text = JSON.stringify({ ...JSON.parse(document.body), id: "pond-vial", name: "Pond vial" });
    const at = (await visitor().send("/imports", { text })).location ?? "";
    expect((await visitor().open(at)).text).toContain("1 method can be taken over");
    const technician = new Visitor(hands.bench, { ...hands.bench.person, role: "technician" });
    const looking = (await technician.open(at)).text;
    expect(looking).not.toContain("Take it over");
    expect(looking).toContain("It waits for somebody who may change methods, recipes and bottles.");
    expect((await technician.send(at, { do: "take" })).status).toBe(403);
    expect((await visitor().send(at, { do: "map", dates: "year-first" })).status).toBe(422);
    expect((await visitor().send(at, { do: "take" })).location).toBe(at);
    expect((await visitor().open("/methods/pond-vial")).text).toContain("Pond vial");
    expect((await visitor().send(at, { do: "undo", reason: "no" })).status).toBe(422);
    const broken = await visitor().send("/imports", { text: "{" });
    expect(broken.text).toContain("This begins like a JSON document and is none.");
  });

  it("reads an instrument's memory out and leads to it", async () => {
    const none = await visitor().send(`/imports/memory/${hands.bench.meter.id}`, {});
    expect(none.status).toBe(404);
    await pressStore(hands.bench.db, hands.bench.meter.id, new Date().toISOString());
    const read = await visitor().send(`/imports/memory/${hands.bench.meter.id}`, {});
    expect(read.location).toMatch(/^\/imports\/\w{26}$/);
    expect((await visitor().open(read.location ?? "")).text).toContain("Memory of");
  });
});

describe("a logger's file of today", () => {
  it("is one line of the day, however long it is, and leads to its file", async () => {
    const { db, person } = hands.bench;
    const { rules, version } = await rulesInForce(db);
    await changeRules(
      db,
      version,
      { ...rules, zone: middayZone() },
      "zone",
      person,
      new Date().toISOString(),
    );
    const begun = Date.now() - 2 * 3_600_000;
    const lines = Array.from(
      { length: 400 },
      (_, i) => `Bathing pond,${new Date(begun + i * 10_000).toISOString()},pH,7.2,`,
    );
    const text = `Site,Date,Parameter,Value,Unit\n${lines.join("\n")}\n`;
    const at = (await visitor().send("/imports", { text })).location ?? "";
    await visitor().send(at, { do: "take" });
    const { text: shown, html } = await visitor().open("/stock");
    expect(shown).toContain("Bathing pond 400 results from pasted lines");
    expect(shown).not.toContain("pH 7.20");
    expect(html).toContain(`href="${at}"`);
  });

  it("is reviewed in one go: the first lines one by one, the others by one tick", async () => {
    const lines = Array.from(
      { length: 120 },
      (_, i) =>
        `Bathing pond,2026-04-12T${String(8 + Math.floor(i / 60)).padStart(2, "0")}:${String(i % 60).padStart(2, "0")}:00Z,pH,${(7 + i / 100).toFixed(2)},`,
    );
    const text = `Site,Date,Parameter,Value,Unit\n${lines.join("\n")}\n`;
    const at = (await visitor().send("/imports", { text })).location ?? "";
    await visitor().send(at, { do: "take" });
    const reviewer = new Visitor(hands.bench, { ...hands.bench.person, role: "reviewer" });
    const shift = "/review/2026-04-12";
    const page = await reviewer.open(shift);
    expect(page.text).toContain("Qualified: 120 results for the same reason");
    expect(page.text).toContain(
      "+ 100 100 others for the same reason, 08:20 to 09:59 All of them: 7.00 to 8.19 pH",
    );
    const seen = [...page.html.matchAll(/name="seen"[^>]*value="([^"]+)"/g)].map(([, value]) => value ?? "");
    expect(seen).toHaveLength(21);
    const look = (ticked: string[]) =>
      reviewer.send(shift, { do: "look", of: "g", seen: ticked, comment: "The logger's day." });
    expect((await look(["nonsense,more"])).status).toBe(422);
    expect((await look(seen)).location).toBe(shift);
    const after = (await reviewer.open(shift)).text;
    expect(after).not.toContain("To be looked at");
    expect(after.match(/“The logger's day.”/g)).toHaveLength(100);
    expect(after).toContain("And 20 others: the day in the ledger has all of them.");
  });
});
