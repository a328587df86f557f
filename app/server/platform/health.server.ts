import type { Knex } from "knex";
import { ensureSameFile } from "./sqlite.server";
import { presentTrouble, type StorageTrouble, type TroubleCode, troubleOf } from "./trouble.server";

/** What is wrong with the data at this moment; null when they can be read, and the last write went through. */
export async function healthOf(db: Knex): Promise<{ code: TroubleCode; message: string } | null> {
  try {
    ensureSameFile(db);
    await db.raw("select 1 from journal_head");
  } catch (error) {
    const found: StorageTrouble | null = troubleOf(error);
    return found ?? { code: "unopened", message: "The database cannot be read." };
  }
  const present = presentTrouble();
  return present && { code: present.code, message: present.sentence };
}
