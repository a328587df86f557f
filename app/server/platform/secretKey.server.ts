import { createHmac, randomBytes } from "node:crypto";
import { existsSync, mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { config } from "./config.server";
import { databasePlace } from "./database.server";
import { besidePlace } from "./engine.server";

/** The secret of this installation: from the environment, or made once and kept beside the database. */
function ownSecret(): string {
  const { BRINTEL_SECRET } = config();
  if (BRINTEL_SECRET) return BRINTEL_SECRET;
  const place = databasePlace();
  if (place === ":memory:") return randomBytes(32).toString("hex");
  const path = join(dirname(besidePlace(place)), "cookie-secret");
  const kept = existsSync(path) ? readFileSync(path, "utf8").trim() : "";
  // An empty file, as a full disk leaves it, would make every address known.
  if (kept.length >= 32) return kept;
  mkdirSync(dirname(path), { recursive: true });
  const secret = randomBytes(32).toString("hex");
  writeFileSync(path, secret, { mode: 0o600 });
  return secret;
}

const secret = ownSecret();

/** What nobody can guess of the calendar's address: calendars carry no cookie. */
export const calendarKey = (): string =>
  createHmac("sha256", secret).update("calendar of what is due").digest("base64url").slice(0, 24);
