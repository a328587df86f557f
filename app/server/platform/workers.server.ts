import { existsSync } from "node:fs";
import { resolve } from "node:path";
import { Worker } from "node:worker_threads";

/** What a worker thread says: how far it is, or what came of it. */
type WorkerWord =
  | { progress: unknown }
  | { piece: string }
  | { result: unknown }
  | { error: { message: string; code?: string } };

/** Whether there is a build for a thread to run: not under the development server, nor in tests of single pages. */
export const workersExist = (): boolean => existsSync(resolve("build/server/index.js"));

/** A worker thread's failure, with the code of what failed. */
class WorkerFailed extends Error {
  override name = "WorkerFailed";
  constructor(
    message: string,
    readonly code: string | undefined,
  ) {
    super(message);
  }
}

/**
 * Has heavy work done in a thread of its own, with a connection of its own, so that no page waits for it. Resolves with
 * what came of it; rejects with what went wrong, also when the thread ends without a word.
 */
export function askWorker(
  task: string,
  file: string | null,
  input: unknown,
  onProgress: (progress: unknown) => void = () => undefined,
): Promise<unknown> {
  return new Promise((done, failed) => {
    const worker = new Worker(resolve("worker.mjs"), { workerData: { task, file, input } });
    worker.on("message", (word: WorkerWord) => {
      if ("progress" in word) onProgress(word.progress);
      else if ("result" in word) done(word.result);
      else if ("error" in word) failed(new WorkerFailed(word.error.message, word.error.code));
    });
    worker.on("error", failed);
    worker.on("exit", () => failed(new WorkerFailed("The worker ended before it was done.", undefined)));
  });
}

/** Has a worker thread write something long, piece by piece; the next piece is asked for when the last was taken. */
export function streamFromWorker(task: string, file: string, input: unknown): ReadableStream<string> {
  return piecesOf(
    new Worker(resolve("worker.mjs"), {
      workerData: { task, file, input },
      // A stream holds one piece at a time: without a bound the thread would let its garbage lie until there is plenty.
      resourceLimits: { maxOldGenerationSizeMb: 64, maxYoungGenerationSizeMb: 4 },
    }),
  );
}

/** What is needed of a thread that writes in pieces. */
interface Writing {
  on(event: "message", listener: (word: WorkerWord) => void): unknown;
  on(event: "error", listener: (error: Error) => void): unknown;
  on(event: "exit", listener: () => void): unknown;
  postMessage(taken: "taken"): void;
  terminate(): Promise<number>;
}

/** What a thread says in pieces, as a stream; whoever stops reading ends the thread, and what it still says is not heard. */
export function piecesOf(worker: Writing): ReadableStream<string> {
  let ended = false;
  return new ReadableStream<string>(
    {
      start(controller) {
        const end = (error?: Error) => {
          if (ended) return;
          ended = true;
          if (error) controller.error(error);
          else controller.close();
        };
        worker.on("message", (word: WorkerWord) => {
          // A thread is not gone at once: a piece may be on its way when the browser has left.
          if (ended) return;
          if ("piece" in word) controller.enqueue(word.piece);
          else if ("result" in word) end();
          else if ("error" in word) end(new WorkerFailed(word.error.message, word.error.code));
        });
        worker.on("error", end);
        worker.on("exit", () => end(new WorkerFailed("The worker ended before it was done.", undefined)));
      },
      pull() {
        worker.postMessage("taken");
      },
      async cancel() {
        ended = true;
        await worker.terminate();
      },
    },
    { highWaterMark: 1 },
  );
}
