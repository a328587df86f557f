import { PassThrough } from "node:stream";
import { createReadableStreamFromReadable } from "@react-router/node";
import { isbot } from "isbot";
import { renderToPipeableStream } from "react-dom/server";
import { type EntryContext, type RouterContextProvider, ServerRouter } from "react-router";
import { nonceContext } from "./server/platform/contexts.server";
import { log } from "./server/platform/log.server";

export const streamTimeout = 5_000;

/** The file of the view library (viewLibrary.ts): the page begins with it as soon as it is there. */
const viewLibraryOf = ({ manifest }: EntryContext) =>
  manifest.entry.imports?.filter((file) => /\/view-[^/]*$/.test(file));

export default function handleRequest(
  request: Request,
  status: number,
  headers: Headers,
  routerContext: EntryContext,
  context: RouterContextProvider,
): Promise<Response> | Response {
  if (request.method.toUpperCase() === "HEAD") return new Response(null, { status, headers });
  const nonce = context.get(nonceContext);
  const ready = isbot(request.headers.get("user-agent") ?? "") ? "onAllReady" : "onShellReady";
  return new Promise((resolve, reject) => {
    let statusCode = status;
    const { pipe, abort } = renderToPipeableStream(
      <ServerRouter context={routerContext} url={request.url} nonce={nonce} />,
      {
        nonce,
        bootstrapModules: viewLibraryOf(routerContext),
        // A part that waits for nothing stands in its place, however long the page: it is not sent after it, for a script to put there.
        progressiveChunkSize: Number.POSITIVE_INFINITY,
        [ready]() {
          const body = new PassThrough();
          headers.set("Content-Type", "text/html; charset=utf-8");
          pipe(body);
          resolve(new Response(createReadableStreamFromReadable(body), { headers, status: statusCode }));
        },
        onShellError: reject,
        onError(error) {
          statusCode = 500;
          log.error({ err: error }, "a page could not be rendered whole");
        },
      },
    );
    setTimeout(abort, streamTimeout + 1_000).unref();
  });
}

export function handleError(error: unknown, { request }: { request: Request }): void {
  if (!request.signal.aborted) log.error({ err: error, url: request.url }, "a loader or action failed");
}
