import { ulid } from "ulid";
import { describe, expect, it } from "vitest";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import { openTestRun, postPlayed } from "../../app/server/testing/benchRun";
import { libraryMethod, RunPlayer } from "../../core/simulation/runPlayer";
import { Visitor } from "./pages";

const hands = benchForEachTest();
const visitor = () => new Visitor(hands.bench);
const begin = (more: Record<string, string> = {}) =>
  visitor().send("/stock/waste", { id: ulid(), stream: "general", code: "W-1", size: "0,5", ...more });

async function run(id: string): Promise<void> {
  const method = libraryMethod(id);
  const at = new Date().toISOString();
  const work = await openTestRun(hands.bench, method, at);
  const played = new RunPlayer(method, {}, Date.parse(at)).play(0.8);
  await postPlayed(hands.bench, work, played.events, at);
}

describe("containers of waste", () => {
  it.each([
    [{ code: " " }, "Write a code on the container, and here."],
    [{ code: "x".repeat(25) }, "Keep the code under 25 characters."],
    [{ size: "big" }, "is not a number"],
    [{ size: "900" }, "A container holds between 0.05 and 200 L."],
  ])("are begun with sentences for %j", async (fields, sentence) => {
    const { status, text } = await begin(fields as Record<string, string>);
    expect([status, text.includes(sentence)]).toEqual([422, true]);
  });

  it("are filled by what is run, of their own stream alone, and given away once", async () => {
    const id = ulid();
    expect((await begin({ id })).status).toBe(200);
    expect((await begin({ id })).status).toBe(200);
    expect((await begin({ code: "W-2" })).text).toContain("W-1 is in use for this: give it away first.");
    expect((await begin({ stream: "mercury" })).text).toContain("This code is taken.");
    await run("phosphate-photometer");
    await run("oxygen-drops");
    const page = await visitor().open("/stock/waste");
    // Two portions of 10 mL: powder adds nothing that is measured in mL.
    expect(page.text).toContain("Phosphate, photometer: 2 portions, 20 mL");
    expect(page.text).not.toContain("Dissolved oxygen, drops: ");
    expect(page.text).toContain("0.02 of 0.5 L");
    expect(page.text).toMatch(/Full about .* at this rate/);
    const give = (to: string) => visitor().send("/stock/waste", { do: "give", id, to });
    expect((await give(" ")).text).toContain("Say who took it.");
    await give("The depot");
    await give("Somebody else");
    expect((await visitor().open("/stock/waste")).text).toContain("to The depot");
    expect(await hands.bench.db("journal").where({ action: "waste container given away" })).toHaveLength(1);
  });
});
