import { createHash, randomBytes, randomInt, type ScryptOptions, scrypt, timingSafeEqual } from "node:crypto";
import { z } from "zod";

/**
 * How a password or PIN is kept: `scrypt:1:<log2 N>:<r>:<p>:<salt>:<hash>`, so that one that was kept by older settings is still
 * read, and kept anew by the present ones when its owner signs in. Source: RFC 7914; about 60 ms and 32 MB a try on a small machine.
 */
const present = { logN: 15, r: 8, p: 1 } as const;
type Settings = { logN: number; r: number; p: number };

const derive = (secret: string, salt: Buffer, { logN, r, p }: Settings): Promise<Buffer> => {
  const options: ScryptOptions = { N: 2 ** logN, r, p, maxmem: 256 * r * 2 ** logN };
  return new Promise((done, failed) =>
    // The same letters typed on another keyboard may come in another form of Unicode.
    scrypt(secret.normalize("NFKC"), salt, 32, options, (error, key) => (error ? failed(error) : done(key))),
  );
};

/** What is kept of a secret. `settings` are for tests that need many. */
export async function hashSecret(secret: string, settings: Settings = present): Promise<string> {
  const salt = randomBytes(16);
  const { logN, r, p } = settings;
  const hash = await derive(secret, salt, settings);
  return `scrypt:1:${logN}:${r}:${p}:${salt.toString("base64url")}:${hash.toString("base64url")}`;
}

const keptForm = /^scrypt:1:(\d{1,2}):(\d{1,2}):(\d{1,2}):([\w-]{22}):([\w-]{43})$/;

/** Whether a secret is the one that was kept; `renew` when it should be kept anew, by the present settings. */
export async function matchesSecret(secret: string, kept: string): Promise<{ ok: boolean; renew: boolean }> {
  const found = keptForm.exec(kept);
  if (!found) return { ok: false, renew: false };
  const [, logN, r, p, salt = "", hash = ""] = found;
  const settings = { logN: Number(logN), r: Number(r), p: Number(p) };
  const ok = timingSafeEqual(
    await derive(secret, Buffer.from(salt, "base64url"), settings),
    Buffer.from(hash, "base64url"),
  );
  const renew = ok && (settings.logN < present.logN || settings.r < present.r || settings.p < present.p);
  return { ok, renew };
}

/** What people choose first, and whoever guesses tries first. Source: common practice. */
const usual =
  /^(password|passwort|qwert[yz]|letmein|welcome|brintel|water|admin|(\w)\2+$|0?123456789?0?$|abcdef)/i;

/** A password: long enough, not what is tried first, not one's own name. */
export const passwordSchema = (name: string) =>
  z
    .string()
    .min(10, { error: "At least 10 characters: three or four words are easy to keep in mind." })
    .max(200, { error: "At most 200 characters." })
    .refine((text) => !usual.test(text), {
      error: "This is one of the first that are guessed. Choose another.",
    })
    .refine((text) => !text.toLowerCase().includes(name.toLowerCase().split(" ")[0] ?? name), {
      error: "Leave your own name out of it.",
    });

const isSteps = (pin: string): boolean => {
  const steps = new Set([...pin].slice(1).map((digit, i) => Number(digit) - Number(pin[i])));
  return steps.size === 1 && Math.abs([...steps][0] ?? 9) <= 1;
};

/** A PIN: four to eight digits, not all alike and not counted up or down. */
export const pinSchema = z
  .string()
  .regex(/^\d{4,8}$/, { error: "Four to eight digits." })
  .refine((pin) => !isSteps(pin), { error: "Not all the same digits, and not a count. Choose another." });

/** Letters and digits that cannot be taken for each other when they are read out. */
const plain = "abcdefghjkmnpqrstuvwxyz23456789";

/** A password for the first sign-in of somebody, to be read out once: 60 bits. */
export const temporaryPassword = (): string =>
  Array.from({ length: 3 }, () =>
    Array.from({ length: 4 }, () => plain[randomInt(plain.length)]).join(""),
  ).join("-");

/** What a browser or a program carries: nobody guesses it, so that it is kept by a quick hash. */
export const newToken = (): string => randomBytes(32).toString("base64url");
export const tokenHash = (token: string): string => createHash("sha256").update(token).digest("base64url");
