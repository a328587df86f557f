/**
 * Gives somebody a new password where nobody is left who could do so in the application: `npm run password -- "Their name"`.
 * Whoever may run it can read the database's file anyway.
 */
import { everybody, givePassword } from "../app/server/people/people.server";
import { hashSecret, temporaryPassword } from "../app/server/people/secret.server";
import { nowIso } from "../app/server/platform/clock.server";
import { database } from "../app/server/platform/database.server";

const name = process.argv.slice(2).join(" ").trim();
const db = await database();
const people = (await everybody(db)).filter((p) => p.active);
const person = people.find((p) => p.name.toLowerCase() === name.toLowerCase());
if (person) {
  const password = temporaryPassword();
  await givePassword(db, person.id, await hashSecret(password), null, nowIso());
  process.stdout.write(`${person.name} signs in once with ${password} and then chooses their own.\n`);
} else {
  process.stderr.write(
    `Say whose password: npm run password -- "${people[0]?.name ?? "Their name"}"\nThere are: ${people.map((p) => p.name).join(", ")}.\n`,
  );
  process.exitCode = 1;
}
await db.destroy();
