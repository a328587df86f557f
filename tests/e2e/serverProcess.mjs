// The real server, in a process that serves one database after another: what a server loads is loaded once for many tests.
import { serve, stopServing } from "../../build/server/index.js";

/** Time for what a page asked for last to be answered, also when nobody waits for it any more. */
const grace_ms = 100;

let server;
let threads = 0;
process.on("worker", (worker) => {
  threads++;
  worker.once("exit", () => threads--);
});

const answers = {
  async serve({ database, port }) {
    process.env.BRINTEL_DATABASE = database;
    server = await serve("build/client", port, "127.0.0.1");
    return { port: server.address().port };
  },
  async stop() {
    await new Promise((done) => setTimeout(done, grace_ms));
    // A thread that is still at work belongs to this database: such a process serves no other.
    const idle = threads === 0;
    await stopServing(server);
    return { idle };
  },
};

process.on("message", async ({ ask, ...what }) => {
  process.send(await answers[ask](what).catch((error) => ({ trouble: error.message })));
});
process.on("disconnect", () => process.exit());
