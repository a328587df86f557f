import { isMainThread } from "node:worker_threads";
import { log } from "./log.server";

/** What can be wrong with the place where the data lie. */
export type TroubleCode = "busy" | "full" | "read-only" | "gone" | "broken" | "newer" | "unopened";

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
  broken: "The database file is damaged. Stop using it and restore the last backup; keep the damaged file.",
};

const codes: [RegExp, keyof typeof sentences][] = [
  [/^SQLITE_(BUSY|LOCKED)/, "busy"],
  [/^(SQLITE_FULL|ENOSPC|SQLITE_IOERR_WRITE)/, "full"],
  [/^(SQLITE_READONLY_DBMOVED|SQLITE_IOERR_FSTAT)/, "gone"],
  [/^(SQLITE_READONLY|EACCES|EROFS|EPERM)/, "read-only"],
  [/^SQLITE_(CORRUPT|NOTADB)/, "broken"],
];

const codeOf = (error: unknown): string => String((error as { code?: unknown } | null)?.code ?? "");

export const isBusy = (error: unknown): boolean => /^SQLITE_(BUSY|LOCKED)/.test(codeOf(error));

/** The trouble behind an error of the engine or the file system; null when it is something else. */
export function troubleOf(error: unknown): StorageTrouble | null {
  if (error instanceof StorageTrouble) return error;
  const code = codes.find(([pattern]) => pattern.test(codeOf(error)))?.[1];
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
