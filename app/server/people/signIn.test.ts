import { beforeEach, describe, expect, it, vi } from "vitest";
import { verifyJournal } from "../bench/verifyJournal.server";
import { benchForEachTest } from "../testing/benchForEachTest";
import { testedOn } from "../testing/testDatabase";
import {
  addPerson,
  changeRole,
  everybody,
  findPerson,
  givePassword,
  nobodyHasPassword,
  setActive,
  setPassword,
  signOutEverywhere,
} from "./people.server";
import { hashSecret } from "./secret.server";
import { browserName, findBrowser, findSession, lockBrowser, sessionsOf, wrongPins } from "./sessions.server";
import { checkOwnPassword, signInByPassword, signInByPin, waitAfter_ms } from "./signIn.server";

const use = benchForEachTest();
const now = "2026-04-12T08:00:00.000Z";
const later = (ms: number) => new Date(Date.parse(now) + ms).toISOString();
const minute = 60_000;
const hour = 60 * minute;
const quick = { logN: 4, r: 1, p: 1 };
const stranger = { browserToken: null, agent: "Mozilla/5.0 (X11; Linux x86_64)" };
const must = <T>(value: T | null | undefined): T => {
  if (value === null || value === undefined) throw new Error("There should be one.");
  return value;
};

let idris = "";
beforeEach(async () => {
  const { db, person } = use.bench;
  const password = await hashSecret("three brown ducks", quick);
  const pin = await hashSecret("2580", quick);
  await db("people").where({ id: person.id }).update({ password, pin });
  const added = await addPerson(db, { name: "Idris", role: "technician" }, person, now, { password, pin });
  idris = must(added).id;
});

/** Signs in and gives what the browser carries then. */
async function signedIn(at = now, asking = stranger as { browserToken: string | null; agent: string }) {
  const answer = await signInByPassword(use.bench.db, use.bench.person.id, "three brown ducks", asking, at);
  if ("refused" in answer) throw new Error(answer.refused);
  return { session: answer.session, browser: answer.browser ?? asking.browserToken ?? "" };
}
const refusedWith = async (answer: ReturnType<typeof signInByPassword>) => {
  const said = await answer;
  return "refused" in said ? said.refused : "let in";
};

describe("a password", () => {
  it("lets its owner in, and the browser carries numbers that are nowhere in the file", async () => {
    const { session, browser } = await signedIn();
    const found = must(await findSession(use.bench.db, session, now));
    expect(found.person).toEqual({ id: use.bench.person.id, name: "Noor", role: "manager" });
    const file = JSON.stringify([await use.bench.db("sessions"), await use.bench.db("browsers")]);
    expect(file).not.toContain(session);
    expect(file).not.toContain(browser);
  });

  it("that is wrong is counted; from the fifth try on the next one waits, longer each time, a right one too", async () => {
    const { db, person } = use.bench;
    const tries = (password: string, at: string) =>
      refusedWith(signInByPassword(db, person.id, password, stranger, at));
    for (let i = 0; i < 4; i++) expect(await tries("wrong", now)).toBe("This is not right. Try again.");
    expect(await tries("wrong", now)).toContain("waits 5 s");
    expect(await tries("three brown ducks", later(3000))).toContain("Wait 2 s");
    expect(await tries("wrong", later(5000))).toContain("waits 10 s");
    expect(await tries("three brown ducks", later(16_000))).toBe("let in");
    expect(await tries("wrong", later(17_000))).toBe("This is not right. Try again.");
  });

  it.each([
    [4, 0],
    [5, 5000],
    [8, 40_000],
    [11, 300_000],
    [60, 300_000],
  ])("after %i wrong tries the next waits %i ms", (wrong, ms) => expect(waitAfter_ms(wrong)).toBe(ms));

  it("that many try at once is counted as many times", async () => {
    const { db, person } = use.bench;
    await Promise.all(
      // From the fifth on, one that begins after the others were counted would have to wait.
      Array.from({ length: 4 }, () => signInByPassword(db, person.id, "wrong", stranger, now)),
    );
    expect((await db("people").where({ id: person.id }).first("wrong_count")).wrong_count).toBe(4);
  });

  it("that was kept by weaker settings is kept anew by the present ones", async () => {
    await signedIn();
    const { password } = await use.bench.db("people").where({ id: use.bench.person.id }).first("password");
    expect(password).toMatch(/^scrypt:1:15:/);
  });

  it("is asked for again before it is changed, and wrong ones are counted there too", async () => {
    const { db, person } = use.bench;
    expect(await checkOwnPassword(db, person.id, "three brown ducks", now)).toBeNull();
    expect(await checkOwnPassword(db, person.id, "", now)).toContain("so that nobody else");
    for (let i = 0; i < 5; i++) await checkOwnPassword(db, person.id, "wrong", now);
    expect(await checkOwnPassword(db, person.id, "three brown ducks", later(1000))).toContain("Wait 4 s");
  });
});

/** The noting of a session as seen is not waited for by any page. */
const noted = (at: string) =>
  vi.waitFor(async () => expect(await use.bench.db("sessions").where({ seen_at: at })).not.toEqual([]));

describe("a session", () => {
  it("ends after 14 hours of nothing, and after a week in any case", async () => {
    const { session } = await signedIn();
    expect(await findSession(use.bench.db, session, later(14 * hour - 1))).toBeDefined();
    // It was seen just now, and noted so.
    await noted(later(14 * hour - 1));
    expect(await findSession(use.bench.db, session, later(27 * hour))).toBeDefined();
    expect(await findSession(use.bench.db, session, later(42 * hour))).toBeUndefined();
    const second = await signedIn();
    for (let h = 10; h <= 160; h += 10) {
      await findSession(use.bench.db, second.session, later(h * hour));
      await noted(later(h * hour));
    }
    expect(await findSession(use.bench.db, second.session, later(167 * hour))).toBeDefined();
    expect(await findSession(use.bench.db, second.session, later(168 * hour))).toBeUndefined();
  });

  it.skipIf(testedOn === "PostgreSQL")("is read while nothing can be written", async () => {
    const { session } = await signedIn();
    await use.bench.db.raw("pragma query_only = on");
    expect(await findSession(use.bench.db, session, later(6 * minute))).toBeDefined();
    await new Promise((wait) => setTimeout(wait, 20));
    await use.bench.db.raw("pragma query_only = off");
  });

  it("is noted as seen every five minutes and no more often", async () => {
    const { session } = await signedIn();
    const seen = async () => (await use.bench.db("sessions").first("seen_at")).seen_at;
    await findSession(use.bench.db, session, later(4 * minute));
    expect(await seen()).toBe(now);
    await findSession(use.bench.db, session, later(6 * minute));
    await vi.waitFor(async () => expect(await seen()).toBe(later(6 * minute)));
  });

  it("is one a browser: who signs in there ends the one before", async () => {
    const first = await signedIn();
    const second = await signedIn(now, { ...stranger, browserToken: first.browser });
    expect(await findSession(use.bench.db, first.session, now)).toBeUndefined();
    expect(await findSession(use.bench.db, second.session, now)).toBeDefined();
  });

  it("ends elsewhere when the password changes, when asked to, and when its owner leaves", async () => {
    const { db, person } = use.bench;
    const [here, there] = [await signedIn(), await signedIn()];
    const own = must(await findSession(db, here.session, now));
    expect(await sessionsOf(db, person.id, now)).toHaveLength(2);
    await setPassword(db, person.id, await hashSecret("four green ducks", quick), own.key, now);
    expect(await findSession(db, there.session, now)).toBeUndefined();
    expect(await findSession(db, here.session, now)).toBeDefined();
    expect(await signOutEverywhere(db, person.id, undefined, now)).toBe(1);
    expect(await findSession(db, here.session, now)).toBeUndefined();
  });

  it("shows a role that was changed at once, and is none for who works here no longer", async () => {
    const { db, person } = use.bench;
    const answer = await signInByPassword(db, idris, "three brown ducks", stranger, now);
    if (!("session" in answer)) throw new Error("Idris was not let in.");
    await changeRole(db, idris, "reviewer", person, now);
    expect((await findSession(db, answer.session, now))?.person.role).toBe("reviewer");
    await setActive(db, idris, false, person, now);
    expect(await findSession(db, answer.session, now)).toBeUndefined();
    expect(await refusedWith(signInByPassword(db, idris, "three brown ducks", stranger, now))).toContain(
      "not in the list",
    );
    // Who comes back does so without the password they had.
    await setActive(db, idris, true, person, now);
    expect(await refusedWith(signInByPassword(db, idris, "three brown ducks", stranger, now))).toContain(
      "No password was given",
    );
  });

  it("that is forged, empty or of another kind is none", async () => {
    for (const token of ["", "x", "session", "a".repeat(43)])
      expect(await findSession(use.bench.db, token, now)).toBeUndefined();
  });
});

describe("a PIN", () => {
  const byPin = (browserToken: string | null, pin: string, at = now) =>
    signInByPin(use.bench.db, idris, pin, { ...stranger, browserToken }, at);

  it("does where a password was typed in the last 14 hours, and nowhere else", async () => {
    const { browser } = await signedIn();
    expect("session" in (await byPin(browser, "2580"))).toBe(true);
    expect(await byPin(null, "2580")).toMatchObject({ usePassword: true });
    expect(await byPin("another", "2580")).toMatchObject({ usePassword: true });
    expect(await byPin(browser, "2580", later(14 * hour))).toMatchObject({ usePassword: true });
  });

  it("does not unlock for longer: a PIN is no password", async () => {
    const { browser } = await signedIn();
    await byPin(browser, "2580", later(13 * hour));
    expect(await byPin(browser, "2580", later(15 * hour))).toMatchObject({ usePassword: true });
  });

  it("that is wrong five times locks the browser, whoever tries", async () => {
    const { browser } = await signedIn();
    for (let i = 1; i < wrongPins; i++) await byPin(browser, "9999");
    expect(await byPin(browser, "9999")).toMatchObject({ usePassword: true });
    expect((await findBrowser(use.bench.db, browser, now))?.unlocked).toBe(false);
    expect(await byPin(browser, "2580", later(hour))).toMatchObject({ usePassword: true });
  });

  it("does no longer where the browser was locked", async () => {
    const { browser } = await signedIn();
    await lockBrowser(use.bench.db, must(await findBrowser(use.bench.db, browser, now)).id);
    expect(await byPin(browser, "2580")).toMatchObject({ usePassword: true });
  });
});

describe("who manages", () => {
  it("gives a password, which is changed at the first sign-in and takes the PIN and the sessions away", async () => {
    const { db, person } = use.bench;
    const before = await signedIn();
    await givePassword(db, person.id, await hashSecret("given-word", quick), person, now);
    expect(await findSession(db, before.session, now)).toBeUndefined();
    const answer = await signInByPassword(db, person.id, "given-word", stranger, now);
    if (!("session" in answer)) throw new Error("Not let in.");
    expect((await findSession(db, answer.session, now))?.mustChange).toBe(true);
    expect((await everybody(db)).find((p) => p.id === person.id)).toMatchObject({ hasPin: false });
    await setPassword(db, person.id, await hashSecret("four green ducks", quick), undefined, now);
    expect((await everybody(db)).find((p) => p.id === person.id)?.mustChange).toBe(false);
  });

  it("is never the last to go: somebody must be able to add others", async () => {
    const { db, person } = use.bench;
    expect(await changeRole(db, person.id, "technician", person, now)).toContain("the only one who manages");
    expect(await setActive(db, person.id, false, person, now)).toContain("the only one who manages");
    expect(await changeRole(db, idris, "manager", person, now)).toBeNull();
    expect(await changeRole(db, person.id, "technician", person, now)).toBeNull();
    expect((await findPerson(db, person.id))?.role).toBe("technician");
  });

  it("leaves everything in the journal but the secrets", async () => {
    const { db, person } = use.bench;
    await signedIn();
    await givePassword(db, idris, await hashSecret("given-word", quick), person, now);
    const actions = await db("journal").where({ subject_kind: "person" }).orderBy("seq").pluck("action");
    expect(actions).toEqual(["person added", "person added", "signed in", "password given"]);
    expect(JSON.stringify(await db("journal"))).not.toContain("scrypt");
    expect(await verifyJournal(db)).toBeNull();
  });
});

it("a database from before passwords has none, and says so", async () => {
  await use.bench.db("people").update({ password: null });
  expect(await nobodyHasPassword(use.bench.db)).toBe(true);
});

it.each([
  ["Mozilla/5.0 (iPhone; CPU iPhone OS 18_0 like Mac OS X)", "Phone"],
  ["Mozilla/5.0 (Linux; Android 15; Pixel) Mobile Safari", "Phone"],
  ["Mozilla/5.0 (Linux; Android 15; SM-T500) Safari", "Tablet"],
  ["Mozilla/5.0 (X11; Linux x86_64)", "Computer"],
  ["curl/8", "Browser"],
])("%s is called a %s", (agent, name) => expect(browserName(agent)).toBe(name));
