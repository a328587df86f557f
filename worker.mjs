// The worker thread of heavy work: re-judging thousands of readings beside the server, which goes on answering.
import { parentPort, workerData } from "node:worker_threads";
import { rejudgeInWorker } from "./build/server/index.js";

await rejudgeInWorker(workerData.file, workerData.id, (share) => parentPort.postMessage(share));
