// Starts the built application: node server.mjs. Port from PORT, address from HOST.
import { configTrouble, log, StorageTrouble, serve, stopServing } from "./build/server/index.js";

/** A sentence for whoever starts it: a stack says nothing to them. */
function say(sentence) {
  process.stderr.write(`${sentence}\n`);
  process.exit(1);
}

const wrong = configTrouble();
if (wrong) say(wrong);
const port = Number(process.env.PORT ?? 4170);
const host = process.env.HOST ?? "127.0.0.1";
const server = await serve("build/client", port, host).catch((error) => {
  if (error.code === "EADDRINUSE")
    say(`Port ${port} is taken. Stop what uses it, or choose another: PORT=4171 npm start`);
  if (error instanceof StorageTrouble || error.syscall === "listen") say(error.message);
  throw error;
});
// The port may have been left to the system (PORT=0).
const { port: taken } = server.address();
process.stdout.write(`Brintel is ready at http://${host === "0.0.0.0" ? "localhost" : host}:${taken}\n`);
for (const signal of ["SIGINT", "SIGTERM"]) {
  process.on(signal, () => {
    log.info({ signal }, "stopping");
    stopServing(server).finally(() => process.exit(0));
  });
}
