import { describe, expect, it } from "vitest";
import { type LimitSet, limitSets } from "../../../core/rules/limitSets";
import { postEvents } from "../bench/bench.server";
import { voidResults } from "../bench/void.server";
import { bringFile } from "../exchange/importFile.server";
import { addMeter } from "../meters/meters.server";
import { recordService } from "../meters/service.server";
import { addPerson } from "../people/people.server";
import { endPlan } from "../plans/plans.server";
import { closeAction } from "../quality/actions.server";
import { setLimits } from "../quality/charts.server";
import { confirmRejudging } from "../results/rejudge.server";
import { amendReading } from "../review/amend.server";
import { noteLooked, signShift } from "../review/sign.server";
import { addLimitSet } from "../rules/limitSets.server";
import { changeRules, rulesInForce } from "../rules/rules.server";
import { saveMethod } from "../runs/methods.server";
import { addSite, chooseLimitSets } from "../sites/sites.server";
import { addLot } from "../stock/lots.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { beginCalibration, testLot, testMeter, testNow } from "../testing/testBench";
import { askForBackup } from "../upkeep/backupRunner.server";
import { type Actor, Forbidden, may, type Right, type Role, rights, roles } from "./rights.server";

const use = benchForEachTest();
/** A set of limits, whatever it says. */
const [someSet] = limitSets as readonly [LimitSet, ...LimitSet[]];

/** Every command that changes a record, with the right it needs. */
const commands: [string, Right, (actor: Actor & { name: string }) => Promise<unknown>][] = [
  [
    "a calibration begun",
    "measure",
    (actor) => beginCalibration({ ...use.bench, person: { ...use.bench.person, ...actor } }),
  ],
  ["events posted", "measure", (actor) => postEvents(use.bench.db, actor, "w", [], testNow)],
  ["a plan put away", "measure", (actor) => endPlan(use.bench.db, "p", actor, testNow)],
  ["results taken out", "void", (actor) => voidResults(use.bench.db, actor, "w", "spilt", testNow)],
  [
    "a lot registered",
    "stock",
    (actor) =>
      addLot(use.bench.db, testLot("ph-buffer", "borate", Number.NaN, { code: "N" }), actor, testNow),
  ],
  [
    "a meter registered",
    "instruments",
    (actor) => addMeter(use.bench.db, testMeter("Z-1", ["ph"]), actor, testNow),
  ],
  [
    "a service written down",
    "instruments",
    (actor) =>
      recordService(
        use.bench.db,
        use.bench.meter,
        { kind: "cleaned", measurand: "ph", on_date: "2026-04-12", code: "", note: "" },
        actor,
        testNow,
      ),
  ],
  [
    "a re-judging confirmed",
    "rejudge",
    (actor) => confirmRejudging(use.bench.db, { kind: "check", subject_id: "c" }, "x", actor, testNow),
  ],
  ["a method kept", "methods", (actor) => saveMethod(use.bench.db, {}, 0, "x", actor, testNow)],
  [
    "limits of a control set",
    "limits",
    (actor) =>
      setLimits(
        use.bench.db,
        { code: "C", parameter: "ph", analyte: "pH", instrument_id: "M" },
        { study: [], method: "study", reason: "x" },
        actor,
        testNow,
      ),
  ],
  [
    "a check seen to",
    "measure",
    (actor) => closeAction(use.bench.db, "a", { cause: "x", done: "y" }, actor, testNow),
  ],
  [
    "a result amended",
    "amend",
    (actor) =>
      amendReading(
        use.bench.db,
        "r",
        { what: "value", text: "7", reason: "slip", judgement: 1 },
        actor,
        testNow,
      ),
  ],
  ["results looked at", "review", (actor) => noteLooked(use.bench.db, [], "seen", actor, testNow)],
  [
    "a shift signed",
    "review",
    (actor) => signShift(use.bench.db, { day: "d", from: "a", to: "b" }, "", actor, testNow),
  ],
  [
    "a file brought in",
    "import",
    (actor) =>
      bringFile(use.bench.db, { name: "x.csv", text: "Site,Date,pH\nPond,2026-04-01,7" }, actor, testNow),
  ],
  ["a backup asked for", "upkeep", async (actor) => askForBackup(use.bench.db, actor)],
  ["limits added", "rules", (actor) => addLimitSet(use.bench.db, someSet, actor, testNow)],
  [
    "rules changed",
    "rules",
    async (actor) =>
      changeRules(use.bench.db, 1, (await rulesInForce(use.bench.db)).rules, "x", actor, testNow),
  ],
  ["limits of a site chosen", "sites", (actor) => chooseLimitSets(use.bench.db, "s", [], actor, testNow)],
  [
    "a site added",
    "sites",
    (actor) =>
      addSite(
        use.bench.db,
        {
          name: "Leat",
          water: "stream",
          ph_low: 7,
          ph_high: 8,
          conductivity_low: null,
          conductivity_high: null,
          altitude_m: null,
        },
        actor,
        testNow,
      ),
  ],
  [
    "a person added",
    "people",
    (actor) => addPerson(use.bench.db, { name: "Wren", role: "technician" }, actor, testNow),
  ],
];

describe("the table of rights", () => {
  it.each(commands.flatMap(([name, right, run]) => roles.map((role) => [name, role, right, run] as const)))(
    "%s by a %s",
    async (_name, role, right, run) => {
      const actor = { id: use.bench.person.id, name: "Noor", role };
      const outcome = run(actor);
      if (may({ role }, right)) await expect(outcome).resolves.not.toThrow();
      else await expect(outcome).rejects.toBeInstanceOf(Forbidden);
    },
  );

  it("lets read-only people look and change nothing, and everybody else measure", () => {
    const everything = Object.keys(rights) as Right[];
    const allowed = (role: Role) => everything.filter((right) => may({ role }, right));
    expect(allowed("read-only")).toEqual([]);
    expect(allowed("technician")).toContain("measure");
    expect(allowed("technician")).not.toEqual(expect.arrayContaining(["rules"]));
    expect(allowed("manager")).toEqual(everything);
  });

  it("covers every right by a command", () => {
    expect(new Set(commands.map(([, right]) => right))).toEqual(new Set(Object.keys(rights)));
  });
});
