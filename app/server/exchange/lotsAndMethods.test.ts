import { describe, expect, it } from "vitest";
import { methodLibrary } from "../../../core/methods/library";
import { verifyJournal } from "../bench/verifyJournal.server";
import { Forbidden } from "../platform/rights.server";
import { findMethod } from "../runs/methods.server";
import { changeLot, findLot, lotHistory, lotsOfCodes } from "../stock/lots.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { bringFile, findImport, keepMapping, tableOf, takeItFor } from "./importFile.server";
import { beginTaking, beginUndoing, lookAt } from "./importRunner.server";

const use = benchForEachTest();
const now = "2026-04-20T12:00:00.000Z";
const head = "Kind;Lot;Name;Received;Expires;Keeps;Uncertainty;Certified value;Content;Hazards";
const buffer = "pH buffer;B7-310;Technical 7.00;01.04.2026;30.11.2027;90;0.02;;500;";
const standard = "Conductivity standard;KC-88;;01.04.2026;31.05.2027;60;7;1413;500;";
const reagent = 'Reagent;MN-4;Manganese sulfate;01.04.2026;31.05.2027;;;;250;"harmful; environment"';
const list = (...lines: string[]) => [head, ...lines].join("\n");

async function bring(text: string, name = "shelf.csv") {
  const kept = await bringFile(use.bench.db, { name, text }, use.bench.person, now);
  if ("message" in kept) throw new Error(kept.message);
  const row = await findImport(use.bench.db, kept.id);
  if (!row) throw new Error("It was not kept.");
  return row;
}
const again = async (id: string) => {
  const row = await findImport(use.bench.db, id);
  if (!row) throw new Error("It is gone.");
  return row;
};
const take = async (id: string, partly = false) =>
  beginTaking(use.bench.db, await again(id), partly, use.bench.person);
const undo = async (id: string) =>
  beginUndoing(use.bench.db, await again(id), "wrong shelf", use.bench.person);
const codes = async () =>
  (await lotsOfCodes(use.bench.db, ["B7-310", "KC-88", "MN-4"])).map((s) => s.lot.code).sort();

describe("a file of lots", () => {
  it("is known as one, and each line is read like the form of a new lot", async () => {
    const row = await bring(list(buffer, standard, reagent));
    expect(row).toMatchObject({ kind: "lots", lines: 3, mapping: { dates: "day-first" } });
    expect(await lookAt(use.bench.db, row)).toMatchObject({
      kind: "lots",
      taken: 3,
      refused: 0,
      examples: [
        { line: 2, what: "pH buffer", code: "B7-310", name: "Technical 7.00", expires_on: "2027-11-30" },
        { line: 3, what: "Conductivity standard", name: "Conductivity 1413 µS/cm" },
        { line: 4, what: "Reagent", code: "MN-4" },
      ],
    });
    expect(await codes()).toEqual([]);
    expect(await take(row.id)).toBeNull();
    const [stored] = await lotsOfCodes(use.bench.db, ["b7-310"]);
    expect(stored?.lot).toMatchObject({
      kind: "ph-buffer",
      material: "technical-7",
      received_on: "2026-04-01",
      expires_on: "2027-11-30",
      shelf_life_open_days: 90,
      size: 500,
      opened_on: null,
    });
    expect((await lotHistory(use.bench.db, stored?.id ?? ""))[0]?.reason).toBe("line 2 of shelf.csv");
    expect((await lotsOfCodes(use.bench.db, ["MN-4"]))[0]?.lot.hazards).toEqual(["harmful", "environment"]);
    expect(await verifyJournal(use.bench.db)).toBeNull();
  });

  it("says of each line that cannot be taken its column and why, and takes none of it unasked", async () => {
    const row = await bring(
      list(
        buffer,
        "Soup;X;Lentils;01.04.2026;31.05.2027;;;;;",
        "pH buffer;B4-1;Technical 4.00;01.04.2026;soon;90;0.02;;500;",
        buffer.replace("500", "250"),
        "pH buffer;B10-1;Technical 10.01;01.04.2026;31.05.2027;90;0.02;;a lot;",
        "pH buffer;B9-1;Borax;01.04.2026;31.05.2027;90;0.02;;500;",
        "Titrant;T-9;Thiosulfate;01.04.2026;31.05.2027;;;;500;",
      ),
    );
    const looked = await lookAt(use.bench.db, row);
    expect(looked.taken).toBe(1);
    expect(looked.why).toEqual([
      { line: 3, column: "Kind", reason: "“Soup” is no kind that is known here." },
      {
        line: 4,
        column: "Expires",
        reason: "“soon” is not a date in the order chosen. Look at the order of dates.",
      },
      { line: 5, column: "Lot", reason: "This lot stands in line 2." },
      expect.objectContaining({ line: 6, column: "Content" }),
      { line: 7, column: "", reason: "Choose which buffer it is." },
      { line: 8, column: "", reason: "Say which titrant of a method it is." },
    ]);
    expect(await take(row.id)).toContain("Some lines cannot be taken over.");
    expect(await codes()).toEqual([]);
    expect(await take(row.id, true)).toBeNull();
    expect(await codes()).toEqual(["B7-310"]);
  });

  it("is taken once, however often it is pressed, and what stands on the shelf is not taken again", async () => {
    const row = await bring(list(buffer, standard));
    expect(await Promise.all([take(row.id), take(row.id)])).toEqual([null, null]);
    expect(await codes()).toEqual(["B7-310", "KC-88"]);
    const more = await bring(list(buffer.toUpperCase().replace("PH BUFFER", "pH buffer"), reagent), "x.csv");
    const looked = await lookAt(use.bench.db, more);
    expect(looked.why).toEqual([{ line: 2, column: "Lot", reason: "There is a lot B7-310 already." }]);
    expect(looked.taken).toBe(1);
    expect(
      await bringFile(use.bench.db, { name: "s", text: list(buffer, standard) }, use.bench.person, now),
    ).toEqual({
      message: "This file was taken over before; it is in the list below.",
    });
  });

  it("is taken out again as long as nobody touched a lot of it, and can be brought in once more", async () => {
    const row = await bring(list(buffer, standard));
    await take(row.id);
    expect(await undo(row.id)).toBeNull();
    expect(await codes()).toEqual([]);
    expect((await again(row.id)).status).toBe("undone");
    expect(await undo(row.id)).toBe("There is nothing of this file on the shelf.");
    const second = await bring(list(buffer, standard));
    await take(second.id);
    const [stored] = await lotsOfCodes(use.bench.db, ["B7-310"]);
    await changeLot(
      use.bench.db,
      stored?.id ?? "",
      (lot) => ({ ...lot, opened_on: "2026-04-20" }),
      use.bench.person,
      now,
      "opened",
    );
    expect(await undo(second.id)).toContain("Lot B7-310 was used or changed since.");
    expect(await findLot(use.bench.db, stored?.id ?? "")).toMatchObject({ version: 2 });
    expect(await verifyJournal(use.bench.db)).toBeNull();
  });

  it("stays when one of its lots stands in work that is not finished", async () => {
    const row = await bring(list(standard));
    await take(row.id);
    const [stored] = await lotsOfCodes(use.bench.db, ["KC-88"]);
    await use.bench.db("documents").insert({ key: "k", document: JSON.stringify({ lot: stored?.id }) });
    expect(await undo(row.id)).toContain("Lot KC-88 was used or changed since.");
  });

  it("may be taken for a table of results, and back; the columns that were chosen are remembered", async () => {
    const row = await bring(list(buffer));
    await takeItFor(use.bench.db, row.id, "results", use.bench.person);
    expect((await again(row.id)).kind).toBe("results");
    await takeItFor(use.bench.db, row.id, "lots", use.bench.person);
    const back = await again(row.id);
    expect(back.kind).toBe("lots");
    if (back.kind !== "lots") return;
    const mapping = { ...back.mapping, columns: { ...back.mapping.columns, place: "Name" } };
    const table = await tableOf(use.bench.db, row.id);
    await keepMapping(use.bench.db, row.id, table?.head ?? [], mapping, use.bench.person, now);
    const next = await bring(list(standard));
    expect(next.mapping).toEqual(mapping);
    const { expires_on: _, ...columns } = mapping.columns;
    await keepMapping(
      use.bench.db,
      next.id,
      table?.head ?? [],
      { ...mapping, columns },
      use.bench.person,
      now,
    );
    expect((await lookAt(use.bench.db, await again(next.id))).message).toBe(
      "Say which column says when it expires.",
    );
    expect(await take(next.id)).toBe("Say which column says when it expires.");
  });

  it("is nothing for somebody who only reads", async () => {
    const row = await bring(list(buffer));
    const reader = { ...use.bench.person, role: "read-only" as const };
    await expect(beginTaking(use.bench.db, row, false, reader)).rejects.toThrow(Forbidden);
  });
});

describe("a file of methods", () => {
  const shipped = methodLibrary[0];
  const own = (id: string, name = "Pond drops") => ({ ...shipped, id, name });
  const file = (...documents: unknown[]) => JSON.stringify(documents.length === 1 ? documents[0] : documents);

  it("keeps each as the next version of its own, whole or not at all", async () => {
    const row = await bring(file(own("pond-drops"), own("pond-strips", "Pond strips")), "methods.json");
    expect(row).toMatchObject({ kind: "methods", lines: 2, mapping: null });
    expect(await lookAt(use.bench.db, row)).toMatchObject({
      taken: 2,
      examples: [
        { line: 1, name: "Pond drops", id: "pond-drops", version: 1 },
        { line: 2, name: "Pond strips", id: "pond-strips", version: 1 },
      ],
    });
    expect(await take(row.id)).toBeNull();
    expect(await take(row.id)).toBeNull();
    expect((await findMethod(use.bench.db, "pond-drops"))?.method.version).toBe(1);
    const next = await bring(
      file(own("pond-drops", "Pond drops, slower"), own("pond-strips", "Pond strips")),
    );
    const looked = await lookAt(use.bench.db, next);
    expect(looked.why).toEqual([{ line: 2, column: "id", reason: "It is kept here just so, as version 1." }]);
    expect(await take(next.id)).toContain("Some documents cannot be taken over.");
    expect(await take(next.id, true)).toBeNull();
    expect((await findMethod(use.bench.db, "pond-drops"))?.method).toMatchObject({
      version: 2,
      name: "Pond drops, slower",
    });
    expect(await undo(next.id)).toContain("Methods are kept by version");
    expect(await verifyJournal(use.bench.db)).toBeNull();
  });

  it("says of each document what is wrong with it, and where", async () => {
    const row = await bring(
      file(
        shipped,
        { ...own("no-hazards"), hazards: [] },
        "text",
        own("twice"),
        own("twice"),
        own("long", "x".repeat(40_000)),
      ),
    );
    const looked = await lookAt(use.bench.db, row);
    expect(looked.taken).toBe(1);
    expect(looked.why.map((r) => [r.line, r.column])).toEqual([
      [1, "id"],
      [2, "hazards"],
      [3, ""],
      [5, "id"],
      [6, "name"],
    ]);
    expect(looked.why[0]?.reason).toContain("A shipped method has this id.");
  });

  it.each([
    ["[]", "There is nothing in this file."],
    ["{", "This begins like a JSON document and is none."],
    [JSON.stringify(Array(51).fill({})), "More than 50 documents."],
  ])("refuses %.10s with a sentence", async (text, sentence) => {
    const kept = await bringFile(use.bench.db, { name: "m.json", text }, use.bench.person, now);
    expect("message" in kept && kept.message).toContain(sentence);
  });

  it("needs whoever changes methods", async () => {
    const row = await bring(file(own("pond-drops")));
    const technician = { ...use.bench.person, role: "technician" as const };
    await expect(beginTaking(use.bench.db, row, false, technician)).rejects.toThrow(Forbidden);
    expect(await findMethod(use.bench.db, "pond-drops")).toBeUndefined();
  });
});
