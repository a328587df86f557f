import { scryptSync } from "node:crypto";
import { describe, expect, it } from "vitest";
import { hashSecret, matchesSecret, passwordSchema, pinSchema, temporaryPassword } from "./secret.server";

const quick = { logN: 4, r: 1, p: 1 };

describe("a secret as it is kept", () => {
  it("is known again, and nothing else is", async () => {
    const kept = await hashSecret("three brown ducks");
    expect(kept).toMatch(/^scrypt:1:15:8:1:/);
    expect(kept).not.toContain("ducks");
    expect(await matchesSecret("three brown ducks", kept)).toEqual({ ok: true, renew: false });
    expect(await matchesSecret("three brown duck", kept)).toEqual({ ok: false, renew: false });
  });

  it("is the standard's own: what another program derived with N = 1024, r = 8, p = 16 is known here", async () => {
    const salt = Buffer.from("sodium chloride!");
    const hash = scryptSync("password", salt, 32, { N: 1024, r: 8, p: 16 });
    const kept = `scrypt:1:10:8:16:${salt.toString("base64url")}:${hash.toString("base64url")}`;
    expect(await matchesSecret("password", kept)).toEqual({ ok: true, renew: true });
  });

  it("never has the same form twice, since each has its own salt", async () => {
    expect(await hashSecret("x", quick)).not.toBe(await hashSecret("x", quick));
  });

  it("is asked to be kept anew where it was kept by weaker settings", async () => {
    expect(await matchesSecret("pond", await hashSecret("pond", quick))).toEqual({ ok: true, renew: true });
  });

  it("is the same in both forms of its letters: é may be typed as one sign or as two", async () => {
    expect((await matchesSecret("cafe\u0301 cafe\u0301", await hashSecret("café café", quick))).ok).toBe(
      true,
    );
  });

  it.each(["", "scrypt:2:4:1:1:a:b", "scrypt:1:4:1:1:short:short", "plain"])(
    "lets nobody in where what is kept is no hash: %s",
    async (kept) => {
      expect(await matchesSecret("", kept)).toEqual({ ok: false, renew: false });
    },
  );
});

describe("a password that is chosen", () => {
  it.each([
    ["three brown ducks", true],
    ["shortword", false],
    ["0123456789", false],
    ["aaaaaaaaaaaa", false],
    ["Password and more", false],
    ["noor likes ponds", false],
    ["x".repeat(201), false],
  ])("%s", (text, ok) => {
    expect(passwordSchema("Noor Haddow").safeParse(text).success).toBe(ok);
  });

  it("is refused in a sentence", () => {
    expect(passwordSchema("Noor").safeParse("noor in the pond").error?.issues[0]?.message).toBe(
      "Leave your own name out of it.",
    );
  });
});

it.each([
  ["2580", true],
  ["13579", true],
  ["1111", false],
  ["1234", false],
  ["9876", false],
  ["123", false],
  ["12a4", false],
  ["123456789", false],
])("the PIN %s may be chosen: %s", (pin, ok) => {
  expect(pinSchema.safeParse(pin).success).toBe(ok);
});

it("a password to read out has three groups of letters and digits that cannot be mistaken", () => {
  const made = new Set(Array.from({ length: 200 }, temporaryPassword));
  expect(made.size).toBe(200);
  for (const text of made) expect(text).toMatch(/^[a-hjkmnp-z2-9]{4}(-[a-hjkmnp-z2-9]{4}){2}$/);
});
