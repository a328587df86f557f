import { ulid } from "ulid";
import { runEvents } from "../../app/server/bench/bench.server";
import { postPlayed } from "../../app/server/testing/benchRun";
import type { TestBench } from "../../app/server/testing/testBench";
import { RunPlayer } from "../../core/simulation/runPlayer";
import { Visitor } from "./pages";

/** Begins a run of a method through its form, with bottles by their codes, and plays it to its end, now or later. */
export async function runWith(
  bench: TestBench,
  method: string,
  lots: Record<string, string>,
  size: number,
  later_ms = 0,
) {
  const { db, site } = bench;
  const work = ulid();
  const sent = { work, event: ulid(), site: site.id, sample: "BP-1", temperature: "20", ...lots };
  const { location, text } = await new Visitor(bench).send(`/runs/new/${method}`, sent);
  if (location !== `/runs/${work}`) throw new Error(text.slice(0, 3000));
  const [started] = await runEvents(db, work);
  if (started?.type !== "started") throw new Error("The run has not begun.");
  const played = new RunPlayer(started.method, started, Date.now() + later_ms).play(size);
  await postPlayed(bench, work, played.events, new Date(Date.now() + later_ms).toISOString());
  const readings = await db("readings").where({ work_id: work });
  return { work, started, reading: readings[0], findings: JSON.parse(readings[0].findings) };
}
