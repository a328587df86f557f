import { ulid } from "ulid";
import { beforeEach, describe, expect, it } from "vitest";
import { voidResults } from "../../app/server/bench/void.server";
import type { Person } from "../../app/server/people/people.server";
import { hashSecret } from "../../app/server/people/secret.server";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import { textOfPdf } from "../../app/server/testing/pdfText";
import { calibratedPh, phReading } from "../../app/server/testing/testBench";
import { lastVerification } from "../../app/server/upkeep/verify.server";
import { verificationUnderWay } from "../../app/server/upkeep/verifyRunner.server";
import { Visitor } from "./pages";

const hands = benchForEachTest();
const word = "three brown ducks";
const maren: Person = { id: "p-maren", name: "Maren", role: "reviewer" };
const reviewer = () => new Visitor(hands.bench, maren);
const noor = () => new Visitor(hands.bench);
const at = (h: number) => `2026-04-12T${String(h).padStart(2, "0")}:00:00.000Z`;
const shift = "/review/2026-04-12";
let [sound, odd] = ["", ""];

beforeEach(async () => {
  const { bench } = hands;
  const password = await hashSecret(word, { logN: 4, r: 1, p: 1 });
  await bench.db("people").insert({ ...maren, active: true, created_at: at(7), password });
  await calibratedPh(bench, at(8));
  odd = `${await phReading(bench, 420, at(9))}-ph`;
  sound = `${await phReading(bench, -40, at(10))}-ph`;
});
const look = (fields: Record<string, string | string[]> = {}) =>
  reviewer().send(shift, {
    do: "look",
    of: "g",
    seen: [`${odd} 1`],
    comment: "The cable was loose.",
    ...fields,
  });
const sign = (fields: Record<string, string> = {}) =>
  reviewer().send(shift, { do: "sign", of: "sign", password: word, comment: "", ...fields });

describe("the review", () => {
  it("lists the shifts that nobody signed, and pages back to older ones", async () => {
    expect((await reviewer().open("/review?until=2026-04-20")).text).toContain(
      "Sun 12 Apr qualified 1 qualified sound 1 sound",
    );
    expect((await reviewer().open("/review?until=2026-05-20")).text).toContain("the oldest is");
    expect((await reviewer().open("/review?until=yesterday")).status).toBe(200);
    expect((await reviewer().open("/review/2026-02-30")).status).toBe(404);
  });

  it("shows what stands against each result, and asks for a word on what is not simply sound", async () => {
    const page = await reviewer().open(shift);
    expect(page.text).toContain("2 results to sign, measured by Noor.");
    expect(page.text).toContain("The reading lies outside the buffers");
    expect(page.text).toContain("1 result above must be looked at first.");
    expect((await reviewer().open(`${shift}?reading=${odd}`)).text).toContain("What this reading rests on");
    expect((await noor().open("/review")).status).toBe(200);
  });

  it("refuses a look without a tick, without a word, with too many, or at what changed meanwhile", async () => {
    expect((await look({ seen: [] })).status).toBe(422);
    expect((await look({ comment: " " })).status).toBe(422);
    expect((await look({ comment: "x".repeat(301) })).status).toBe(422);
    expect((await look({ seen: ["nonsense", `${odd} 7`] })).status).toBe(422);
    expect(await hands.bench.db("review_notes")).toEqual([]);
    expect((await look()).location).toBe(shift);
    expect((await reviewer().open(shift)).text).toContain("“The cable was loose.” Maren");
  });

  it("is signed with the password, once everything was looked at", async () => {
    expect((await sign()).text).toContain("1 result must be looked at first");
    await look();
    expect((await sign({ password: "" })).text).toContain("Type your password");
    expect((await sign({ password: "wrong" })).text).toContain("This is not right.");
    expect((await sign({ comment: "A quiet day." })).location).toBe(shift);
    const after = (await reviewer().open(shift)).text;
    expect(after).toContain("2 results signed by Maren");
    expect(after).toContain("Nothing is left to sign.");
    expect((await reviewer().open("/review")).text).toContain("“A quiet day.”");
  });

  it("gives a report on paper and as a PDF, with who signed and what was seen", async () => {
    await look();
    await sign({ comment: "A quiet day." });
    const page = await reviewer().open(`${shift}/report`);
    for (const words of [
      "Shift of",
      "Maren",
      "A quiet day.",
      "The cable was loose.",
      "P-2",
      "1 sound, 1 qualified",
    ])
      expect(page.text).toContain(words);
    const answer = await reviewer().ask(`${shift}/report.pdf`);
    expect(answer.headers.get("Content-Disposition")).toContain("shift-2026-04-12.pdf");
    const text = (await textOfPdf(answer.bytes)).join(" ");
    for (const words of ["Shift of", "Maren", "The cable was loose."]) expect(text).toContain(words);
  });
});

describe("the record of a result", () => {
  const amend = (fields: Record<string, string>) =>
    noor().send(`/records/${sound}`, {
      what: "value",
      text: "7.86",
      reason: "Digits changed places.",
      judgement: "1",
      ...fields,
    });

  it("tells everything that was done with it, and prints it", async () => {
    await look();
    await sign();
    expect((await amend({})).location).toBe(`/records/${sound}`);
    const page = await noor().open(`/records/${sound}`);
    for (const words of [
      "measured by Noor",
      "judged",
      "signed by Maren",
      "amended, value by Noor",
      "→ 7.86 pH",
      "Not signed as it is now.",
    ])
      expect(page.text).toContain(words);
    expect((await noor().open(`/records/${sound}/record`)).text).toContain(
      "From the bottle to the signature",
    );
    const { bytes } = await noor().ask(`/records/${sound}/record.pdf`);
    expect((await textOfPdf(bytes)).join(" ")).toContain("Digits changed places.");
    expect((await noor().open("/records/none")).status).toBe(404);
    const id = ulid();
    const say = (remark: string) => noor().send(`/records/${sound}`, { do: "remark", id, remark });
    expect((await say(" ")).text).toContain("Write something.");
    expect((await say("Windy.")).location).toBe(`/records/${sound}`);
    expect((await say("Windy.")).location).toBe(`/records/${sound}`);
    expect((await noor().open(`/records/${sound}`)).text.split("“Windy.”")).toHaveLength(2);
    expect((await noor().send("/records/none", { do: "remark", id: ulid(), remark: "x" })).status).toBe(404);
  });

  it.each([
    [{ text: "" }, "Type what it should be."],
    [{ reason: "x" }, "Say why"],
    [{ reason: "x".repeat(201) }, "Keep it under 201 characters."],
    [{ text: "1,320" }, "can be read two ways"],
    [{ text: "=1+1" }, "is not a number"],
    [{ judgement: "4" }, "judged anew meanwhile"],
  ] as [Record<string, string>, string][])("refuses %o in a sentence", async (fields, sentence) => {
    const answer = await amend(fields);
    expect(answer.status).toBe(422);
    expect(answer.text).toContain(sentence);
  });

  it("of what was taken out has nothing to amend, and shows a look-alike tag as the text it is", async () => {
    await voidResults(
      hands.bench.db,
      hands.bench.person,
      sound.replace(/-ph$/, ""),
      "<script>alert(1)</script>",
      at(12),
    );
    const { html, text } = await noor().open(`/records/${sound}`);
    expect(text).not.toContain("Amend it");
    expect(html).not.toContain("<script>alert");
    expect(html).toContain("&lt;script&gt;alert(1)");
  });
});

describe("the journal's page", () => {
  it("lists what was done, by whom and about what, and leads on by pages", async () => {
    const all = await noor().open("/journal");
    expect(all.text).toContain("reading judged");
    expect(all.text).toContain("bench work");
    expect((await noor().open("/journal?action=lot%20registered")).text).not.toContain("reading judged");
    expect((await noor().open(`/journal?about=${sound}`)).text).toContain("About one thing only");
    expect((await noor().open("/journal?person=nobody")).text).toContain("Nothing of that kind was done.");
    expect((await noor().open("/journal?from=2026-04-13")).text).toContain("Nothing of that kind was done.");
    expect((await noor().open("/journal?from=2026-04-12&to=2026-04-12")).text).toContain("reading judged");
    expect((await noor().open("/journal?before=-1&from=never")).status).toBe(200);
  });

  it("checks everything when somebody who reviews asks for it, and says what it found", async () => {
    expect((await noor().open("/journal")).text).toContain("Nobody has checked the records yet.");
    await reviewer().send("/journal", {});
    while (verificationUnderWay()) await new Promise((wait) => setTimeout(wait, 20));
    expect(await lastVerification(hands.bench.db)).toMatchObject({ by: "Maren", faults: [] });
    expect((await noor().open("/journal")).text).toContain("Everything fits.");
    await hands.bench.db("journal").where({ seq: 3 }).update({ reason: "other" });
    await reviewer().send("/journal", {});
    while (verificationUnderWay()) await new Promise((wait) => setTimeout(wait, 20));
    expect((await noor().open("/journal")).text).toContain("Entry 3 is the first that does not fit");
  });
});

describe("the page of upkeep", () => {
  it("says how Brintel is doing, and has a button for whoever manages", async () => {
    const page = await noor().open("/upkeep");
    for (const words of ["Upkeep", "There is no backup yet.", "Entries of the journal", "Schema"])
      expect(page.text).toContain(words);
    expect((await noor().send("/upkeep", {})).location).toBe("/upkeep");
    const technician = new Visitor(hands.bench, { ...maren, role: "technician" });
    expect((await technician.send("/upkeep", {})).text).toContain("you may look, but not make backups");
  });
});
