import { beforeEach, describe, expect, it } from "vitest";
import { everybody } from "../../app/server/people/people.server";
import { hashSecret } from "../../app/server/people/secret.server";
import { benchForEachTest } from "../../app/server/testing/benchForEachTest";
import { Visitor } from "./pages";

const hands = benchForEachTest();
const quick = { logN: 4, r: 1, p: 1 };
const word = "three brown ducks";
const manager = () => new Visitor(hands.bench);
const technician = () => new Visitor(hands.bench, { ...hands.bench.person, role: "technician" });
const facts = async (name: string) => (await everybody(hands.bench.db)).find((p) => p.name === name);
const given = (html: string) => /given-password">([^<]+)</.exec(html)?.[1] ?? "";

beforeEach(async () => {
  await hands.bench.db("people").update({ password: await hashSecret(word, quick) });
});

describe("the sign-in", () => {
  const to = (more = "") => `/sign-in?as=${hands.bench.person.id}${more}`;
  const send = (fields: Record<string, string>, more = "") =>
    manager().send(to(more), { person: hands.bench.person.id, do: "password", ...fields });

  it("shows who works here, asks for the password, and lets in by it to where one was", async () => {
    expect((await manager().open("/sign-in")).text).toContain("Noor manager");
    expect((await manager().open(to())).text).toContain("Your password");
    expect((await send({ password: "" })).text).toContain("Type your password.");
    expect((await send({ password: "three brown" })).text).toContain("This is not right. Try again.");
    expect((await send({ password: word }, "&next=/ledger")).location).toBe("/ledger");
    expect((await send({ password: word }, "&next=//elsewhere.example")).location).toBe("/");
  });

  it("says to somebody without a password whom to ask, and to a form for nobody that there is nobody", async () => {
    await hands.bench
      .db("people")
      .insert({ id: "w", name: "Wren", role: "technician", active: true, created_at: "" });
    expect((await manager().open("/sign-in?as=w")).text).toContain("You have no password yet.");
    expect((await send({ person: "nobody", password: word })).text).toContain("not in the list any more");
    expect((await send({ person: "w", password: word })).text).toContain("No password was given to you yet");
  });

  it("needs a password where nobody used one: a PIN alone is not enough", async () => {
    const answer = await manager().send(to(), { person: hands.bench.person.id, do: "pin", pin: "2580" });
    expect(answer.text).toContain("Here the next sign-in needs a password");
  });

  it("of a database from before passwords lets whoever manages choose the first one, and nobody else", async () => {
    await hands.bench.db("people").update({ password: null });
    await hands.bench
      .db("people")
      .insert({ id: "w", name: "Wren", role: "technician", active: true, created_at: "" });
    expect((await manager().open("/sign-in")).text).toContain("Brintel asks for passwords now.");
    expect((await manager().open("/sign-in?as=w")).text).toContain(
      "Whoever manages chooses a password first",
    );
    expect((await send({ do: "first", person: "w", password: word })).text).toContain(
      "Whoever manages chooses",
    );
    expect((await send({ do: "first", password: "noor" })).text).toContain("At least 10 characters");
    expect((await send({ do: "first", password: word })).location).toBe("/");
    expect((await send({ do: "first", password: "other brown ducks" })).text).toContain(
      "has a password already",
    );
  });
});

describe("the page of the people", () => {
  it("shows who may do what, to everybody", async () => {
    const { text } = await technician().open("/people");
    expect(text).toContain("Who may do what");
    expect(text).toContain("change house rules and limits");
    expect(text).not.toContain("Give a new password");
  });

  it("adds somebody with a password that is shown once", async () => {
    expect((await manager().send("/people", { do: "add", name: " ", role: "technician" })).text).toContain(
      "Type the name people know you by.",
    );
    expect((await manager().send("/people", { do: "add", name: "Noor", role: "technician" })).text).toContain(
      "There is someone of this name already.",
    );
    const added = await manager().send("/people", { do: "add", name: "Wren", role: "reviewer" });
    expect(given(added.html)).toMatch(/^\w{4}-\w{4}-\w{4}$/);
    expect((await manager().open("/people")).html).not.toContain("given-password");
    expect(await facts("Wren")).toMatchObject({ role: "reviewer", hasPassword: true, mustChange: true });
  });

  it("sets right what somebody is called, under a name that nobody else has", async () => {
    await manager().send("/people", { do: "add", name: "Wrne", role: "technician" });
    const person = (await facts("Wrne"))?.id ?? "";
    const send = (name: string) => manager().send("/people", { do: "name", person, name });
    expect((await send(" ")).text).toContain("Type the name people know you by.");
    expect((await send("x".repeat(61))).text).toContain("Keep the name under 61 characters.");
    expect((await send("Noor")).text).toContain("There is someone of this name already.");
    await send("Wren");
    await send("Wren");
    expect(await facts("Wren")).toMatchObject({ id: person });
    const renamed = await hands.bench.db("journal").where({ action: "person renamed" }).pluck("before");
    expect(renamed).toEqual([JSON.stringify({ name: "Wrne" })]);
    const gone = await manager().send("/people", { do: "name", person: "none", name: "Rook" });
    expect(gone.status).toBe(422);
  });

  it("changes what somebody does, gives a new password, notes who left and came back", async () => {
    await manager().send("/people", { do: "add", name: "Wren", role: "technician" });
    const person = (await facts("Wren"))?.id ?? "";
    const send = (fields: Record<string, string>) => manager().send("/people", { person, ...fields });
    expect((await send({ do: "role", role: "king" })).text).toContain("Choose what they do from the list.");
    await send({ do: "role", role: "reviewer" });
    expect((await facts("Wren"))?.role).toBe("reviewer");
    expect(given((await send({ do: "password" })).html)).toMatch(/^\w{4}-/);
    await send({ do: "left" });
    expect((await manager().open("/people")).text).toContain("works here no longer");
    await send({ do: "back" });
    expect(await facts("Wren")).toMatchObject({ active: true, hasPassword: false });
    const me = hands.bench.person.id;
    expect((await manager().send("/people", { do: "left", person: me })).text).toContain(
      "Somebody else takes you out",
    );
    expect((await manager().send("/people", { do: "role", person: me, role: "technician" })).text).toContain(
      "the only one who manages",
    );
    expect((await send({ do: "conjure" })).text).toContain("not known here");
  });
});

describe("one's own page", () => {
  const send = (fields: Record<string, string>) => manager().send("/me", { present: word, ...fields });

  it("changes nothing without the password one has", async () => {
    for (const what of ["password", "pin", "everywhere"]) {
      const answer = await send({ do: what, present: "", password: "four green ducks", pin: "2580" });
      expect(answer.status).toBe(422);
      expect(answer.text).toContain("so that nobody else changes this");
    }
  });

  it("refuses a weak password and a weak PIN in a sentence, and keeps good ones", async () => {
    expect((await send({ do: "password", password: "short" })).text).toContain("At least 10 characters");
    expect((await send({ do: "password", password: word })).text).toContain("This is the one you have.");
    expect((await send({ do: "pin", pin: "1234" })).text).toContain("and not a count");
    expect((await send({ do: "pin", pin: "2580" })).text).toContain("Your PIN is set.");
    expect((await facts("Noor"))?.hasPin).toBe(true);
    expect((await send({ do: "no-pin" })).text).toContain("no PIN any longer");
    expect((await send({ do: "everywhere" })).text).toContain("nowhere else");
    expect((await send({ do: "password", password: "four green ducks" })).text).toContain(
      "Your password is changed",
    );
    expect((await send({ do: "pin", pin: "2580" })).text).toContain("This is not right.");
  });
});
