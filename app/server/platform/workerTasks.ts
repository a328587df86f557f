import type { MessagePort } from "node:worker_threads";

type Task = (file: never, input: never, tell: never, port: MessagePort) => Promise<unknown>;

/**
 * What a worker thread can be asked to do; built apart from the server, so that a thread carries no pages, and each loaded when it is
 * asked for, so that it carries no other's code.
 */
export const workerTasks: Record<string, () => Promise<Task>> = {
  rejudge: async () => (await import("../results/rejudgeRunner.server")).rejudgeInWorker,
  preview: async () => (await import("../results/rejudgeRunner.server")).previewInWorker,
  export: async () => (await import("../exchange/ledgerExport.server")).exportInWorker,
  replan: async () => (await import("../plans/planRunner.server")).replanInWorker,
  plan: async () => (await import("../plans/planRunner.server")).planningInWorker,
  verify: async () => (await import("../upkeep/verifyRunner.server")).verifyInWorker,
  backup: async () => (await import("../upkeep/backupRunner.server")).backupInWorker,
  import: async () => (await import("../exchange/importRunner.server")).importInWorker,
};
