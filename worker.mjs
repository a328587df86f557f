// The worker thread of heavy work, beside the server, which goes on answering: the name of the task decides.
import { parentPort, workerData } from "node:worker_threads";
import { workerTasks } from "./build/server/index.js";

const { task, file, id } = workerData;
await workerTasks[task](file, id, (share) => parentPort.postMessage(share));
