import { describe, expect, it } from "vitest";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import { calibratedPh, phReading } from "../../app/server/testing/testBench";
import { Visitor } from "./pages";

const hands = benchForEachTest();
const manager = () => new Visitor(hands.bench, { ...hands.bench.person, role: "manager" });
const page = "/rules";
/** Duplicates that are further apart than this are objected to. */
const field = "ph.duplicate_ph";

describe("the house rules", () => {
  it("say which version is in force, each with its reason", async () => {
    const { text } = await manager().open(page);
    expect(text).toContain("Version 1 is in force");
    expect(text).toContain("Below 95 % the glass is ageing.");
  });

  it("are looked at before they are kept: what would differ, and of how many readings", async () => {
    await calibratedPh(hands.bench);
    await phReading(hands.bench, -62);
    const asked = { version: "1", [field]: "0,02", from: "2020-01-01", do: "look" };
    const { status, text } = await manager().send(page, asked);
    expect(status).toBe(200);
    expect(text).toContain("0.1 pH → 0.02 pH");
    expect(text).toMatch(/\d+ of \d+ readings? since that day would be judged otherwise/);
    expect((await manager().open(page)).text).toContain("Version 1 is in force");
  });

  it.each([
    [{ [field]: "a little" }, "Give a number, like 0.1."],
    [{ [field]: "0.1" }, "Nothing is different from the rules in force."],
    [{ reason: "" }, "Say why the rules change."],
    [{ version: "7" }, "Somebody changed the rules meanwhile. Look at them again."],
  ])("with %o are refused in words, and stay", async (fields, sentence) => {
    const asked = { version: "1", [field]: "0.02", reason: "Two probes agree.", do: "keep", ...fields };
    const { status, text } = await manager().send(page, asked);
    expect(status).toBe(422);
    expect(text).toContain(sentence);
    expect((await manager().open(page)).text).toContain("Version 1 is in force");
  });

  it("are kept as the next version, with who changed what and why, beside the default", async () => {
    const reason = "Two probes of one kind now agree.";
    const kept = await manager().send(page, { version: "1", [field]: "0.02", reason, do: "keep" });
    expect(kept.location).toBe(page);
    const { text } = await manager().open(page);
    expect(text).toContain("Version 2 is in force");
    expect(text).toContain(reason);
    expect(text).toContain("Default: 0.1 pH");
  });
});
