import { Readable } from "node:stream";
import { createHeaders, sendResponse } from "@remix-run/node-fetch-server";
import type { Response as Answering, Request as Asked, RequestHandler } from "express";
import { createRequestHandler, RouterContextProvider, type ServerBuild } from "react-router";
import { nonceContext } from "./contexts.server";

/** What a browser asked, as the framework wants it; given up when the browser goes. */
function requestOf(asked: Asked, answering: Answering): Request {
  const gone = new AbortController();
  answering.once("close", () => {
    if (!answering.writableFinished) gone.abort();
  });
  const reads = asked.method === "GET" || asked.method === "HEAD";
  // A form's body was read at the door; what is longer is read as it comes.
  const body: Uint8Array<ArrayBuffer> | undefined = answering.locals.body;
  return new Request(new URL(asked.originalUrl, `${asked.protocol}://${asked.headers.host}`), {
    method: asked.method,
    headers: createHeaders(asked),
    signal: gone.signal,
    ...(reads ? {} : { body: body ?? (Readable.toWeb(asked) as ReadableStream), duplex: "half" }),
  });
}

type Handle = (request: Request, context: RouterContextProvider) => Promise<Response>;

/**
 * Answers what a browser asks with what a handler makes of it. The framework's own adapter for this server keeps every
 * piece of an answer until the end (a promise that lives as long as the answer is raced against each read, and holds what
 * won): a long export would lie in memory whole.
 */
export function answeredBy(handle: Handle): RequestHandler {
  return async (asked, answering, next) => {
    try {
      const context = new RouterContextProvider();
      context.set(nonceContext, String(answering.locals.nonce));
      await sendResponse(answering, await handle(requestOf(asked, answering), context));
    } catch (error) {
      next(error);
    }
  };
}

/**
 * The pages and actions of the application, loaded with the first question. The framework would make its table of every
 * address anew for each question when it is handed what loads them: it is handed what was loaded.
 */
export function applicationOf(load: () => Promise<ServerBuild>): RequestHandler {
  let application: Promise<Handle> | undefined;
  return answeredBy(async (request, context) => {
    application ??= load().then((build) => createRequestHandler(build, process.env.NODE_ENV));
    return (await application)(request, context);
  });
}
