// The worker thread of heavy work, beside the server, which goes on answering: the name of the task decides.
import { parentPort, workerData } from "node:worker_threads";
import { workerTasks } from "./build/server/worker.js";

const { task, file, input } = workerData;
try {
  const result = await workerTasks[task](
    file,
    input,
    (progress) => parentPort.postMessage({ progress }),
    parentPort,
  );
  parentPort.postMessage({ result });
} catch (error) {
  parentPort.postMessage({ error: { message: error.message, code: error.code } });
}
