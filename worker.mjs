// The worker thread of heavy work, beside the server, which goes on answering: the name of the task decides.
import { readlinkSync } from "node:fs";
import { constants, setPriority } from "node:os";
import { basename } from "node:path";
import { parentPort, workerData } from "node:worker_threads";
import { workerTasks } from "./build/server/worker.js";

try {
  // Heavy work steps back behind the thread that answers pages, but not so far that a lock it holds is held for long. Linux gives each
  // thread a number and a priority of its own.
  setPriority(Number(basename(readlinkSync("/proc/thread-self"))), constants.priority.PRIORITY_BELOW_NORMAL);
} catch {
  // Elsewhere all threads are alike.
}

const { task, file, input } = workerData;
try {
  const work = await workerTasks[task]();
  const result = await work(file, input, (progress) => parentPort.postMessage({ progress }), parentPort);
  parentPort.postMessage({ result });
} catch (error) {
  parentPort.postMessage({ error: { message: error.message, code: error.code } });
}
