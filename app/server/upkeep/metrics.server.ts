import type { RequestHandler } from "express";
import type { Knex } from "knex";
import { collectDefaultMetrics, Gauge, Histogram, Registry } from "prom-client";
import { stateOf } from "./state.server";

const registry = new Registry();
collectDefaultMetrics({ register: registry });
const answers = new Histogram({
  name: "brintel_http_answer_seconds",
  help: "How long answers took, by method and status.",
  labelNames: ["method", "status"],
  buckets: [0.01, 0.03, 0.06, 0.1, 0.3, 1, 3, 10],
  registers: [registry],
});
const gauge = (name: string, help: string) =>
  new Gauge({ name: `brintel_${name}`, help, registers: [registry] });
const gauges = {
  entries: gauge("journal_entries", "Entries of the journal."),
  bytes: gauge("database_bytes", "Size of the database with its log."),
  free: gauge("disk_free_bytes", "Room on the disk of the database."),
  backup: gauge("last_backup_timestamp_seconds", "When the newest backup was made; 0 where there is none."),
  verified: gauge(
    "last_check_timestamp_seconds",
    "When the records were checked last; 0 where they never were.",
  ),
  faults: gauge("last_check_faults", "What did not fit in that check."),
  trouble: gauge("storage_trouble", "1 while the data cannot be written."),
};

/** Times every answer but those of files and streams. */
export const timeAnswers: RequestHandler = (req, res, next) => {
  if (/^\/(assets|devices)\//.test(req.path)) return next();
  const stop = answers.startTimer({ method: req.method });
  res.once("finish", () => stop({ status: String(res.statusCode) }));
  next();
};

const seconds = (at: string | undefined): number => (at ? Date.parse(at) / 1000 : 0);
const loopback = /^(127\.|::1$|::ffff:127\.)/;

/** The metrics in the common text format, for whoever asks from this machine. */
export const metrics =
  (db: Knex): RequestHandler =>
  async (req, res) => {
    if (!loopback.test(req.ip ?? "")) return res.status(404).end();
    const state = await stateOf(db);
    gauges.entries.set(state.entries);
    gauges.bytes.set(state.bytes);
    gauges.free.set(state.free_bytes ?? 0);
    gauges.backup.set(seconds(state.backups[0]?.made_at));
    gauges.verified.set(seconds(state.verified?.at));
    gauges.faults.set(state.verified?.faults.length ?? 0);
    gauges.trouble.set(state.trouble ? 1 : 0);
    res.type(registry.contentType).send(await registry.metrics());
  };
