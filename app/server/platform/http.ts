import { keepBackingUp } from "../upkeep/backupRunner.server";
import { metrics, timeAnswers } from "../upkeep/metrics.server";
import "react-router";
import { randomBytes } from "node:crypto";
import type { Server } from "node:http";
import compression from "compression";
import express from "express";
import compressedFiles from "express-static-gzip";
import helmet from "helmet";
import { pinoHttp } from "pino-http";
import { keepResuming } from "../results/rejudgeRunner.server";
import { closeAll, keepSealing } from "../upkeep/sealing.server";
import { applicationOf } from "./answer";
import { config } from "./config.server";
import { database } from "./database.server";
import {
  boundedBody,
  knownHost,
  knownMethods,
  noZeroBytes,
  ownOrigin,
  privateAnswers,
  throttles,
} from "./doors.server";
import { oneDrainListener } from "./drain";
import { healthOf } from "./health.server";
import { log } from "./log.server";

/** What answers: log, security headers, what may come in, compression, files of the build, health, the application. */
async function createApp(clientFolder: string) {
  const db = await database();
  await keepResuming(db);
  keepSealing(db);
  keepBackingUp(db);
  const app = express();
  app.disable("x-powered-by");
  // Behind a proxy the sender is who the proxy says: throttles count by it.
  app.set("trust proxy", config().BRINTEL_TLS ? 1 : false);
  app.use(
    pinoHttp({
      logger: log,
      autoLogging: { ignore: (req) => req.url === "/health" || (req.url ?? "").startsWith("/assets/") },
      serializers: {
        req: (req) => ({ method: req.method, url: req.url }),
        res: (res) => ({ status: res.statusCode }),
      },
    }),
  );
  app.use((_req, res, next) => {
    res.locals.nonce = randomBytes(16).toString("base64");
    next();
  });
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: true,
        directives: {
          "script-src": ["'self'", (_req, res) => `'nonce-${(res as express.Response).locals.nonce}'`],
          "style-src": ["'self'", "'unsafe-inline'"],
          "img-src": ["'self'", "data:"],
          "font-src": ["'self'"],
          // Served over plain HTTP on a bench network: asking for HTTPS would break every file.
          "upgrade-insecure-requests": null,
        },
      },
      // Under "no-referrer" a browser hides where a form of our own comes from, and it would be taken for another site's.
      referrerPolicy: { policy: "same-origin" },
      strictTransportSecurity: false,
    }),
  );
  app.use(timeAnswers);
  app.use(knownHost(), knownMethods, boundedBody, ownOrigin);
  for (const [path, limit] of throttles()) app.use(path, limit);
  app.use(noZeroBytes);
  // A live stream must not wait in the compressor's buffer.
  app.use(
    compression({ filter: (req, res) => !/\/stream(\?|$)/.test(req.url) && compression.filter(req, res) }),
    oneDrainListener,
  );
  // The build laid a compressed copy beside each of its files: a server's first page need not wait for the compressor.
  app.use(
    "/assets",
    compressedFiles(`${clientFolder}/assets`, {
      enableBrotli: true,
      orderPreference: ["br", "gzip"],
      serveStatic: { immutable: true, maxAge: "1y" },
    }),
  );
  app.use(express.static(clientFolder, { maxAge: "1h" }));
  app.get("/metrics", metrics(db));
  app.get("/health", async (_req, res) => {
    const found = await healthOf(db);
    res
      .status(found ? 503 : 200)
      .json(found ? { status: found.code, message: found.message } : { status: "ok" });
  });
  app.use(privateAnswers);
  app.use(applicationOf(() => import("virtual:react-router/server-build")));
  return app;
}

/** Serves the application; resolves when it listens. Errors: rejects where the port is taken or the data cannot be used. */
export async function serve(clientFolder: string, port: number, host: string): Promise<Server> {
  const app = await createApp(clientFolder);
  return new Promise((listens, failed) => {
    const server = app.listen(port, host, () => listens(server));
    // Longer than proxies and clients keep a connection: none is cut while somebody is about to use it again.
    server.keepAliveTimeout = 75_000;
    server.once("error", failed);
  });
}

/** Takes no more requests, cuts what is open (live streams are by nature) and closes the database. */
export async function stopServing(server: Server): Promise<void> {
  const closed = new Promise((done) => server.close(done));
  server.closeAllConnections();
  await closed;
  await closeAll();
}

export { configTrouble } from "./config.server";
export { StorageTrouble } from "./trouble.server";
export { log };
