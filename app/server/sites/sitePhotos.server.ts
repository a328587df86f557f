import { createHash } from "node:crypto";
import type { Knex } from "knex";
import { ulid } from "ulid";
import { photoLimits, type SitePhoto } from "../../../core/samples/photo";
import { writeJournal } from "../platform/journal.server";
import type { Actor } from "../platform/rights.server";
import { write } from "../platform/write.server";

/** The pictures of a site, the newest first, without what they show. */
export const photosOfSite = (
  db: Knex,
  siteId: string,
): Promise<{ id: string; caption: string; at: string; by: string }[]> =>
  db("site_photos as p")
    .join("people", "people.id", "p.person_id")
    .where({ site_id: siteId })
    .orderBy("p.id", "desc")
    .select("p.id", "p.caption", "p.at", "people.name as by");

/** One picture as the bytes of its JPEG; undefined when it is not one of the site. */
export async function photoBytes(db: Knex, siteId: string, id: string): Promise<Uint8Array | undefined> {
  const row: { image: string } | undefined = await db("site_photos")
    .where({ id, site_id: siteId })
    .first("image");
  return row && new Uint8Array(Buffer.from(row.image.slice(row.image.indexOf(",") + 1), "base64"));
}

/** Hangs a picture on the page of its site. The same picture again changes nothing. */
export function addSitePhoto(
  db: Knex,
  siteId: string,
  { image, caption }: SitePhoto,
  actor: Actor,
  now: string,
): Promise<"kept" | "gone" | "full"> {
  return write(db, actor, "sites", async (trx) => {
    if (!(await trx("sites").where({ id: siteId }).first("id"))) return "gone";
    const hash = createHash("sha256").update(image).digest("base64url");
    const there: { hash: string }[] = await trx("site_photos").where({ site_id: siteId }).select("hash");
    if (there.some((p) => p.hash === hash)) return "kept";
    if (there.length >= photoLimits.ofSite) return "full";
    const id = ulid();
    await trx("site_photos").insert({
      id,
      site_id: siteId,
      caption,
      image,
      hash,
      person_id: actor.id,
      at: now,
    });
    await writeJournal(trx, now, [
      {
        person_id: actor.id,
        action: "photo added",
        subject_kind: "site",
        subject_id: siteId,
        after: { photo: id, caption, hash },
      },
    ]);
    return "kept";
  });
}

/** Takes a picture down; what was taken down already stays so. */
export function removeSitePhoto(
  db: Knex,
  siteId: string,
  id: string,
  actor: Actor,
  now: string,
): Promise<void> {
  return write(db, actor, "sites", async (trx) => {
    const photo = await trx("site_photos").where({ id, site_id: siteId }).first("id", "caption", "hash");
    if (!photo) return;
    await trx("site_photos").where({ id }).delete();
    await writeJournal(trx, now, [
      {
        person_id: actor.id,
        action: "photo taken down",
        subject_kind: "site",
        subject_id: siteId,
        before: { photo: photo.id, caption: photo.caption, hash: photo.hash },
      },
    ]);
  });
}
