import "react-router";
import { randomBytes } from "node:crypto";
import { createRequestHandler } from "@react-router/express";
import compression from "compression";
import express from "express";
import helmet from "helmet";
import { pinoHttp } from "pino-http";
import { RouterContextProvider } from "react-router";
import { nonceContext } from "./contexts.server";
import { database } from "./database.server";
import { log } from "./log.server";
import { replanInWorker } from "./planRunner.server";
import { rejudgeInWorker, resumeRejudgings } from "./rejudgeRunner.server";

/** The web server: log, security headers, compression, files of the build, health address, then the application. */
export async function createApp(clientFolder: string) {
  const db = await database();
  await resumeRejudgings(db);
  const app = express();
  app.disable("x-powered-by");
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
      strictTransportSecurity: false,
    }),
  );
  // A live stream must not wait in the compressor's buffer.
  app.use(
    compression({ filter: (req, res) => !/\/stream(\?|$)/.test(req.url) && compression.filter(req, res) }),
  );
  app.use("/assets", express.static(`${clientFolder}/assets`, { immutable: true, maxAge: "1y" }));
  app.use(express.static(clientFolder, { maxAge: "1h" }));
  app.get("/health", (_req, res) => {
    db.raw("select 1").then(
      () => res.json({ status: "ok" }),
      () => res.status(503).json({ status: "no database" }),
    );
  });
  app.use(
    createRequestHandler({
      build: () => import("virtual:react-router/server-build"),
      getLoadContext(_req, res) {
        const context = new RouterContextProvider();
        context.set(nonceContext, String(res.locals.nonce));
        return context;
      },
    }),
  );
  return app;
}

/** What the worker thread can be asked to do. */
export const workerTasks = { rejudge: rejudgeInWorker, replan: replanInWorker };

export { log };
