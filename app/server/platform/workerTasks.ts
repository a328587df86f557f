import { importInWorker } from "../exchange/importRunner.server";
import { exportInWorker } from "../exchange/ledgerExport.server";
import { planningInWorker, replanInWorker } from "../plans/planRunner.server";
import { previewInWorker, rejudgeInWorker } from "../results/rejudgeRunner.server";
import { backupInWorker } from "../upkeep/backupRunner.server";
import { verifyInWorker } from "../upkeep/verifyRunner.server";

/** What a worker thread can be asked to do; built apart from the server, so that a thread carries no pages. */
export const workerTasks = {
  rejudge: rejudgeInWorker,
  preview: previewInWorker,
  export: exportInWorker,
  replan: replanInWorker,
  plan: planningInWorker,
  verify: verifyInWorker,
  backup: backupInWorker,
  import: importInWorker,
};
