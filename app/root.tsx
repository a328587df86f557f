import "@fontsource-variable/atkinson-hyperlegible-next";
import "@fontsource-variable/atkinson-hyperlegible-mono";
import figures from "@fontsource-variable/atkinson-hyperlegible-mono/files/atkinson-hyperlegible-mono-latin-wght-normal.woff2?url";
import text from "@fontsource-variable/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-wght-normal.woff2?url";
import microSign from "./styles/micro-sign.woff2?url&no-inline";
import "./styles/signs.css";
import "./styles/antd.common.generated.css";
import "./styles/tokens.css";
import "./styles/app.css";
import "./styles/forms.css";
import "./styles/layout.css";
import { ConfigProvider } from "antd";
import { type ReactNode, useEffect } from "react";
import {
  isRouteErrorResponse,
  Links,
  Meta,
  Outlet,
  Scripts,
  ScrollRestoration,
  useRouteLoaderData,
} from "react-router";
import type { Route } from "./+types/root";
import { nonceContext } from "./server/platform/contexts.server";
import { guard, themeCookie } from "./server/platform/session.server";
import { lightTheme } from "./theme";
import { reachedNobody, untilReached, useReloadWhenReached, useUnreached } from "./ui/reach";
import { StayUntilReached } from "./ui/StayUntilReached";

export const middleware: Route.MiddlewareFunction[] = [guard];

/** A form, and whatever else is asked for, waits on its page until the server is there: what was typed is not lost with it. */
export const clientMiddleware: Route.ClientMiddlewareFunction[] = [
  async ({ request }, next) => {
    await untilReached(request.signal);
    return next();
  },
];

export async function loader({ request, context }: Route.LoaderArgs) {
  const theme: unknown = await themeCookie.parse(request.headers.get("Cookie"));
  return { theme: theme === "dark" || theme === "light" ? theme : null, nonce: context.get(nonceContext) };
}

/** Colours and nonce come with the page and do not change while it is open. */
export const shouldRevalidate = () => false;

/** The faces of nearly every page, the micro sign's too, come with its first lines: nothing is laid out twice, no number changes its shape. */
const face = (href: string) => ({
  rel: "preload",
  as: "font" as const,
  type: "font/woff2",
  crossOrigin: "anonymous" as const,
  href,
});

export const links: Route.LinksFunction = () => [
  { rel: "icon", href: "/drop.svg", type: "image/svg+xml" },
  face(text),
  face(figures),
  face(microSign),
];

export const meta: Route.MetaFunction = () => [
  { title: "Brintel" },
  { name: "description", content: "Calibrate meters, take readings, keep the evidence behind every number." },
];

/** Follows the device's own light or dark before the first paint, unless a person has chosen. */
const followDevice =
  "var r=document.documentElement;if(!r.dataset.theme)r.dataset.theme=matchMedia('(prefers-color-scheme: dark)').matches?'dark':'light'";

export function Layout({ children }: { children: ReactNode }) {
  const data = useRouteLoaderData<typeof loader>("root");
  // The page listens from now on: what is pressed before goes nowhere, and tests wait for this mark.
  useEffect(() => {
    document.documentElement.dataset.listens = "yes";
  }, []);
  // The browser hides a nonce once it has been read, so the two sides differ by design.
  const nonce = typeof document === "undefined" ? data?.nonce : "";
  return (
    <html lang="en" data-theme={data?.theme ?? undefined} suppressHydrationWarning>
      <head>
        <meta charSet="utf-8" />
        <meta name="viewport" content="width=device-width, initial-scale=1" />
        <Meta />
        <Links />
        {/* biome-ignore lint/security/noDangerouslySetInnerHtml: a constant, no input reaches it */}
        <script nonce={nonce} suppressHydrationWarning dangerouslySetInnerHTML={{ __html: followDevice }} />
      </head>
      <body className="brintel">
        {children}
        <ScrollRestoration nonce={nonce} />
        <Scripts nonce={nonce} />
      </body>
    </html>
  );
}

export default function Root() {
  return (
    <ConfigProvider theme={lightTheme}>
      <Outlet />
      <StayUntilReached />
    </ConfigProvider>
  );
}

/** The sentence a refusal came with. No schema: this is in what every page loads. */
const messageOf = (data: unknown): string | undefined =>
  typeof data === "object" && data !== null && "message" in data && typeof data.message === "string"
    ? data.message
    : undefined;

export function ErrorBoundary({ error }: Route.ErrorBoundaryProps) {
  const known = isRouteErrorResponse(error);
  useReloadWhenReached(reachedNobody(error));
  const unreached = useUnreached();
  const said = known ? messageOf(error.data) : undefined;
  if (known && said) {
    return (
      <main className="lonely">
        <h1>{error.status === 403 ? "Not with this role" : "This could not be done"}</h1>
        <p>{said}</p>
        <p>
          <a href="/">Back to the day</a>
        </p>
      </main>
    );
  }
  if (unreached) {
    return (
      <main className="lonely">
        <h1>Brintel cannot be reached</h1>
        <p role="status">The page comes as soon as it can be. What you captured is kept in this browser.</p>
      </main>
    );
  }
  return (
    <main className="lonely">
      <h1>
        {known && error.status === 404 ? "There is nothing at this address" : "Something went wrong here"}
      </h1>
      <p>
        {known && error.status === 404
          ? "It may have been mistyped. Nothing was lost."
          : "What you captured is kept. Reload the page; if it happens again, note the time and tell whoever looks after Brintel."}
      </p>
      <p>
        <a href="/">Back to the day</a>
      </p>
    </main>
  );
}
