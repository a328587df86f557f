import { text as textFrom } from "node:stream/consumers";
import { ConfigProvider } from "antd";
import { type ComponentType, createElement } from "react";
import { prerenderToNodeStream } from "react-dom/static";
import {
  createStaticHandler,
  createStaticRouter,
  type RouteObject,
  RouterContextProvider,
  StaticRouterProvider,
  useActionData,
  useLoaderData,
  useMatches,
  useParams,
  useRouteError,
} from "react-router";
import { ErrorBoundary } from "../../app/root";
import routes from "../../app/routes";
import { askOnce } from "../../app/server/day/due.server";
import type { Person } from "../../app/server/people/people.server";
import { dbContext, dueContext, personContext } from "../../app/server/platform/contexts.server";
import type { TestBench } from "../../app/server/testing/testBench";
import { lightTheme } from "../../app/theme";

/** What a route file may export. */
interface RouteFile {
  default?: ComponentType<Record<string, unknown>>;
  loader?: RouteObject["loader"];
  action?: RouteObject["action"];
}
const files = import.meta.glob<RouteFile>("../../app/areas/**/*.{ts,tsx}");

type Entry = (typeof routes)[number];

/** Hands a page what the framework hands it. */
const withProps = (Page: ComponentType<Record<string, unknown>>) =>
  function WithProps() {
    const props = {
      loaderData: useLoaderData(),
      actionData: useActionData(),
      params: useParams(),
      matches: useMatches(),
    };
    return createElement(Page, props);
  };

async function toRoute(entry: Entry): Promise<RouteObject> {
  const file = await files[`../../app/${entry.file}`]?.();
  if (!file) throw new Error(`The route file ${entry.file} is missing.`);
  const { default: Page, loader, action } = file;
  const common = {
    id: entry.id ?? entry.file,
    ...(loader && { loader }),
    ...(action && { action }),
    ...(Page && { Component: withProps(Page) }),
  };
  if (entry.index) return { ...common, index: true };
  const children = await Promise.all((entry.children ?? []).map(toRoute));
  return { ...common, ...(entry.path && { path: entry.path }), children };
}

const Root = ErrorBoundary as unknown as ComponentType<{ error: unknown }>;

/** What is shown where a page cannot be, as the root has it; the sentence of what was thrown, which the guard in front would answer with. */
const Instead = () => {
  const error = useRouteError();
  return error instanceof Error ? <p>{error.message}</p> : <Root error={error} />;
};
const tree = Promise.all(routes.map(toRoute)).then((all) =>
  all.map((route) => ({ ...route, ErrorBoundary: Instead })),
);
/** What answers at all addresses; it is the same for every visitor. */
const handler = tree.then((routes) => createStaticHandler(routes));

export interface Shown {
  status: number;
  /** Where the answer leads; null when it shows a page. */
  location: string | null;
  /** The page as it is read: its text, with one space between the parts. */
  text: string;
  html: string;
}

const textOf = (html: string): string =>
  html
    .replace(/<(script|style)[^>]*>.*?<\/\1>/gs, "")
    .replace(/<!-- -->/g, "")
    .replace(/<\/?sub>/g, "")
    .replace(/<[^>]+>/g, " ")
    .replace(/&#x27;/g, "'")
    .replace(/&quot;/g, '"')
    .replace(/&lt;/g, "<")
    .replace(/&gt;/g, ">")
    .replace(/&amp;/g, "&")
    .replace(/\s+/g, " ")
    .trim();

export type Fields = Record<string, string | string[]>;

const formOf = (fields: Fields): URLSearchParams =>
  new URLSearchParams(
    Object.entries(fields).flatMap(([name, value]) => [value].flat().map((v): [string, string] => [name, v])),
  );

/** The person at the bench, the database behind it, and the application in front: everything but the network. */
export class Visitor {
  constructor(
    readonly bench: TestBench,
    readonly person: Person = bench.person,
  ) {}

  private context(): RouterContextProvider {
    const context = new RouterContextProvider();
    context.set(dbContext, this.bench.db);
    context.set(personContext, this.person);
    context.set(dueContext, askOnce(this.bench.db, new Date().toISOString()));
    return context;
  }

  private request(path: string, fields?: Fields): Request {
    const url = new URL(path, "http://bench.test");
    return new Request(url, fields ? { method: "POST", body: formOf(fields) } : {});
  }

  private async show(request: Request): Promise<Shown> {
    const { query, dataRoutes } = await handler;
    const context = await query(request, { requestContext: this.context() });
    if (context instanceof Response) {
      const { status, headers } = context;
      return { status, location: headers.get("Location"), text: await context.text(), html: "" };
    }
    const router = createStaticRouter(dataRoutes, context);
    // With the parts that are loaded late, each where it stands.
    const { prelude } = await prerenderToNodeStream(
      <ConfigProvider theme={lightTheme}>
        <StaticRouterProvider router={router} context={context} hydrate={false} />
      </ConfigProvider>,
      { progressiveChunkSize: Number.POSITIVE_INFINITY },
    );
    const html = await textFrom(prelude);
    return { status: context.statusCode, location: null, text: textOf(html), html };
  }

  /** Opens a page. */
  open(path: string): Promise<Shown> {
    return this.show(this.request(path));
  }

  /** Sends a form to a page, and shows what it answers. */
  send(path: string, fields: Fields): Promise<Shown> {
    return this.show(this.request(path, fields));
  }

  /** Asks an address that is no page: a file, a feed, a small service. `json` posts it. */
  async ask(
    path: string,
    json?: unknown,
  ): Promise<{ status: number; headers: Headers; body: string; bytes: Buffer }> {
    const { queryRoute } = await handler;
    const url = new URL(path, "http://bench.test");
    const request = new Request(
      url,
      json === undefined
        ? {}
        : {
            method: "POST",
            headers: { "Content-Type": "application/json" },
            body: typeof json === "string" ? json : JSON.stringify(json),
          },
    );
    // An answer that carries a status of its own is thrown, as the framework has it.
    const answer: unknown = await queryRoute(request, { requestContext: this.context() }).catch(
      (thrown: unknown) => {
        if (thrown instanceof Response) return thrown;
        throw thrown;
      },
    );
    if (answer instanceof Response) {
      const bytes = Buffer.from(await answer.arrayBuffer());
      return { status: answer.status, headers: answer.headers, body: bytes.toString(), bytes };
    }
    const body = JSON.stringify(answer);
    return { status: 200, headers: new Headers(), body, bytes: Buffer.from(body) };
  }
}
