// Starts the built application: node server.mjs. Port from PORT, address from HOST.
import { closeAll, configTrouble, createApp, log, StorageTrouble } from "./build/server/index.js";

const wrong = configTrouble();
if (wrong) {
  process.stderr.write(`${wrong}\n`);
  process.exit(1);
}
const port = Number(process.env.PORT ?? 4170);
const host = process.env.HOST ?? "127.0.0.1";
const app = await createApp("build/client").catch((error) => {
  if (!(error instanceof StorageTrouble)) throw error;
  // A sentence for whoever starts it: the stack says nothing to them.
  process.stderr.write(`${error.message}\n`);
  process.exit(1);
});
const server = app.listen(port, host, () => {
  // The port may have been left to the system (PORT=0).
  const { port: taken } = server.address();
  process.stdout.write(`Brintel is ready at http://${host === "0.0.0.0" ? "localhost" : host}:${taken}\n`);
});
// Longer than proxies and clients keep a connection: none is cut while somebody is about to use it again.
server.keepAliveTimeout = 75_000;
server.on("error", (error) => {
  const taken = error.code === "EADDRINUSE";
  process.stderr.write(
    taken
      ? `Port ${port} is taken. Stop what uses it, or choose another: PORT=4171 npm start\n`
      : `${error.message}\n`,
  );
  process.exit(1);
});
for (const signal of ["SIGINT", "SIGTERM"]) {
  process.on(signal, () => {
    log.info({ signal }, "stopping");
    server.close(() => closeAll().finally(() => process.exit(0)));
    // Live streams stay open by nature; they are cut so that stopping is quick.
    server.closeAllConnections();
  });
}
