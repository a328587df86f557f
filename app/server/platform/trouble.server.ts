import { isMainThread } from "node:worker_threads";
import { log } from "./log.server";

/** What can be wrong with the place where the data lie. */
export type TroubleCode = "busy" | "full" | "read-only" | "gone" | "away" | "broken" | "newer" | "unopened";

/** The data cannot be read or written; the message is a sentence for the people at the bench. */
export class StorageTrouble extends Error {
  constructor(
    readonly code: TroubleCode,
    sentence: string,
    options?: { cause?: unknown },
  ) {
    super(sentence, options);
    this.name = "StorageTrouble";
  }
}

const sentences: Record<Exclude<TroubleCode, "newer" | "unopened">, string> = {
  busy: "The database is busy with another program. Nothing was lost; try again in a moment.",
  full: "The disk is full: nothing more can be kept until room is made. What was kept is safe.",
  "read-only":
    "The database can be read but not written. Whoever looks after Brintel must allow writing to it.",
  gone: "The database file is no longer where it was. Stop, put it back or restore a backup, and start Brintel again.",
  away: "The database server does not answer. Nothing was lost; what is at the benches is sent when it is back.",
  broken: "The database file is damaged. Stop using it and restore the last backup; keep the damaged file.",
};

/** What SQLite, the file system and PostgreSQL call it. Source: PostgreSQL 15, appendix A, for the codes of five signs. */
const codes: [RegExp, keyof typeof sentences][] = [
  [/^SQLITE_(BUSY|LOCKED)|^(40001|40P01|55P03)$/, "busy"],
  [/^(53100|58030)$/, "full"],
  [/^(25006|42501)$/, "read-only"],
  [/^(08...|57P0[1-5]|53300|ECONNREFUSED|ECONNRESET|EPIPE|ETIMEDOUT|EHOSTUNREACH)$/, "away"],
  [/^XX00[12]$/, "broken"],
  [/^(SQLITE_FULL|ENOSPC|SQLITE_IOERR_WRITE)/, "full"],
  [/^(SQLITE_READONLY_DBMOVED|SQLITE_IOERR_FSTAT)/, "gone"],
  [/^(SQLITE_READONLY|EACCES|EROFS|EPERM)/, "read-only"],
  [/^SQLITE_(CORRUPT|NOTADB)/, "broken"],
];

const codeOf = (error: unknown): string => String((error as { code?: unknown } | null)?.code ?? "");

/** The driver has no codes for a server that vanishes in the middle, or for one that gives no connection in time. */
const vanished =
  /Connection (terminated|ended)|Client has encountered a connection error|timeout (expired|exceeded when trying to connect)|acquiring a connection/;

const kindOf = (error: unknown): keyof typeof sentences | undefined =>
  codes.find(([pattern]) => pattern.test(codeOf(error)))?.[1] ??
  (error instanceof Error && vanished.test(error.message) ? "away" : undefined);

export const isBusy = (error: unknown): boolean => kindOf(error) === "busy";

/** The trouble behind an error of the engine or the file system; null when it is something else. */
export function troubleOf(error: unknown): StorageTrouble | null {
  if (error instanceof StorageTrouble) return error;
  const code = kindOf(error);
  return code ? new StorageTrouble(code, sentences[code], { cause: error }) : null;
}

export const trouble = (code: keyof typeof sentences): StorageTrouble =>
  new StorageTrouble(code, sentences[code]);

/** What every page says while writing fails: set by a write that failed, cleared by one that went through. */
let present: { code: TroubleCode; sentence: string } | null = null;
export const presentTrouble = () => present;

export function noteTrouble(found: StorageTrouble | null): void {
  if (found && found.code !== "busy") {
    if (present?.code !== found.code && isMainThread)
      log.error({ trouble: found.code, cause: found.cause }, found.message);
    present = { code: found.code, sentence: found.message };
  } else if (!found) present = null;
}
