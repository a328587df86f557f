import type { Knex } from "knex";
import * as schema from "./001-schema";
import * as plans from "./002-plans";
import * as firmGround from "./003-firm-ground";
import * as visits from "./004-visits";
import * as samples from "./005-samples";
import * as sitePhotos from "./006-site-photos";
import * as stock from "./007-stock";
import * as quality from "./008-quality";
import * as solutions from "./009-solutions";
import * as people from "./010-people";
import * as review from "./011-review";
import * as imports from "./012-imports";
import * as keys from "./013-keys";
import * as importKinds from "./014-import-kinds";
import * as remarks from "./015-remarks";
import * as controls from "./016-controls";
import * as bottled from "./017-bottled";
import * as takenOut from "./018-taken-out";
import * as outOfUse from "./019-out-of-use";
import * as calledOff from "./020-called-off";
import * as documentsOutOfUse from "./021-documents-out-of-use";
import { withDatesAsNumbers } from "./mendFirmGround";

type Migration = { name: string; up(db: Knex): Promise<void>; down(db: Knex): Promise<void> };

const migrations: Migration[] = [
  { name: "001-schema", ...schema },
  { name: "002-plans", ...plans },
  { name: "003-firm-ground", ...firmGround, up: withDatesAsNumbers(firmGround.up) },
  { name: "004-visits", ...visits },
  { name: "005-samples", ...samples },
  { name: "006-site-photos", ...sitePhotos },
  { name: "007-stock", ...stock },
  { name: "008-quality", ...quality },
  { name: "009-solutions", ...solutions },
  { name: "010-people", ...people },
  { name: "011-review", ...review },
  { name: "012-imports", ...imports },
  { name: "013-keys", ...keys },
  { name: "014-import-kinds", ...importKinds },
  { name: "015-remarks", ...remarks },
  { name: "016-controls", ...controls },
  { name: "017-bottled", ...bottled },
  { name: "018-taken-out", ...takenOut },
  { name: "019-out-of-use", ...outOfUse },
  { name: "020-called-off", ...calledOff },
  { name: "021-documents-out-of-use", ...documentsOutOfUse },
];

/** The names of the migrations this program knows. */
export const migrationNames: readonly string[] = migrations.map((m) => m.name);

/** Migrations come from this list, not from a folder, so that the built server carries them along. */
export const migrationSource: Knex.MigrationSource<Migration> = {
  getMigrations: async () => migrations,
  getMigrationName: (migration) => migration.name,
  getMigration: async (migration) => migration,
};

/** The first migrations, up to one of them. */
export const migrationsUpTo = (name: string): Knex.MigrationSource<Migration> => ({
  ...migrationSource,
  getMigrations: async () => migrations.slice(0, migrationNames.indexOf(name) + 1),
});
