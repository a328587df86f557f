import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { bringFile } from "../../app/server/exchange/importFile.server";
import { lookAtImport, takeImport } from "../../app/server/exchange/takeImport.server";
import { undoImport } from "../../app/server/exchange/undoImport.server";
import { openTestBench } from "../../app/server/testing/testBench";

/** How long it takes to look at, take over and take out again a file of so many results, on a database of its own. */
export async function timeImport(
  lines: number,
): Promise<{ bring_ms: number; look_ms: number; take_ms: number; undo_ms: number; megabytes: number }> {
  const folder = mkdtempSync(join(tmpdir(), "brintel-import-"));
  const { db, person } = await openTestBench(join(folder, "bench.sqlite"));
  try {
    const begin = Date.UTC(2024, 0, 1);
    const text = [
      "Site,Date,Parameter,Value,Unit,Instrument",
      ...Array.from({ length: lines }, (_, i) => {
        const at = new Date(begin + i * 600_000).toISOString().slice(0, 16).replace("T", " ");
        return `Bathing pond,${at},pH,${(7.4 + 0.4 * Math.sin(i / 70)).toFixed(2)},,Logger 3`;
      }),
    ].join("\n");
    const timed = async <T>(work: () => Promise<T>): Promise<[T, number]> => {
      const begun = performance.now();
      const result = await work();
      return [result, performance.now() - begun];
    };
    const now = new Date().toISOString();
    const [kept, bring_ms] = await timed(() => bringFile(db, { name: "logger.csv", text }, person, now));
    if ("message" in kept) throw new Error(kept.message);
    const [looked, look_ms] = await timed(() => lookAtImport(db, kept.id, now));
    if (looked.taken !== lines) throw new Error(`Only ${looked.taken} of ${lines} lines could be read.`);
    const [refused, take_ms] = await timed(() =>
      takeImport(db, kept.id, { partly: false, person_id: person.id }, now),
    );
    if (refused) throw new Error(refused);
    const [, undo_ms] = await timed(() => undoImport(db, kept.id, "a try", person, now));
    return { bring_ms, look_ms, take_ms, undo_ms, megabytes: text.length / 1e6 };
  } finally {
    await db.destroy();
    rmSync(folder, { recursive: true });
  }
}
