import { hostname, networkInterfaces } from "node:os";
import type { RequestHandler, Response } from "express";
import { rateLimit } from "express-rate-limit";
import { config } from "./config.server";

/** The most that a request may carry: a method document or a plan with everything in it is far below. */
const bodyLimit = 2 * 1024 * 1024;
/** Files of results may be long. */
const fileLimit = 32 * 1024 * 1024;
const takesFiles = /^\/imports(\.data)?$/;

const say = (status: number, message: string) => (_req: unknown, res: Response) => {
  res.status(status).json({ message });
};

/** Names under which this machine may be asked for: its own, its addresses, and those of BRINTEL_HOSTS. */
function ownHosts(): Set<string> {
  const addresses = Object.values(networkInterfaces())
    .flat()
    .flatMap((n) => n?.address ?? []);
  const named = config()
    .BRINTEL_HOSTS.split(",")
    .flatMap((h) => h.trim().toLowerCase() || []);
  const own = hostname().toLowerCase();
  return new Set(["localhost", "127.0.0.1", "::1", own, `${own}.local`, ...addresses, ...named]);
}

const nameOf = (host: string) =>
  host
    .replace(/:\d+$/, "")
    .replace(/^\[|\]$/g, "")
    .toLowerCase();

/** Refuses a request for a host that this is not: links and calendars carry the name they were asked by. */
export function knownHost(): RequestHandler {
  const hosts = ownHosts();
  const refuse = say(
    421,
    "Brintel does not go by this name. Ask whoever looks after it to add it to BRINTEL_HOSTS, or use the machine's own name.",
  );
  return (req, res, next) => (hosts.has(nameOf(req.headers.host ?? "")) ? next() : refuse(req, res));
}

/** Only what pages and calendars use; anything else is no request for this program. */
export const knownMethods: RequestHandler = (req, res, next) => {
  if (["GET", "HEAD", "POST"].includes(req.method)) return next();
  res.setHeader("Allow", "GET, HEAD, POST");
  say(405, "This address is read or posted to.")(req, res);
};

/** A body says how long it is, and is not longer than anything sensible. */
export const boundedBody: RequestHandler = (req, res, next) => {
  if (req.method !== "POST") return next();
  const length = req.headers["content-length"];
  if (length === undefined) return say(411, "Say how long the request is.")(req, res);
  if (!(Number(length) <= (takesFiles.test(req.path) ? fileLimit : bodyLimit))) {
    res.setHeader("Connection", "close");
    return say(413, "This is more than Brintel takes at once.")(req, res);
  }
  next();
};

const zeroByte =
  "There is a character in this that no keyboard makes (a zero byte). Take it out and send it again.";
const forms = /^application\/(x-www-form-urlencoded|json)\b/;

/**
 * Refuses text with a zero byte in it, wherever it hides: one engine keeps such text and the other does not. The body of a form is
 * read here, whole (it is bounded), and handed on as it came; files keep their bytes.
 */
export const noZeroBytes: RequestHandler = (req, res, next) => {
  if (/%00/.test(req.url)) return say(400, zeroByte)(req, res);
  if (req.method !== "POST" || !forms.test(req.headers["content-type"] ?? "")) return next();
  const parts: Buffer[] = [];
  req.on("data", (part: Buffer) => parts.push(part));
  req.once("error", next);
  req.once("end", () => {
    const body = Buffer.concat(parts);
    if (body.includes(0) || /%00|\\u0000/.test(body.toString("latin1"))) return say(400, zeroByte)(req, res);
    res.locals.body = body;
    next();
  });
};

/** What changes a record comes from a page of this program: a form or a script of another site is refused. */
export const ownOrigin: RequestHandler = (req, res, next) => {
  if (req.method !== "POST" || req.path.startsWith("/api/calculators/")) return next();
  const { origin } = req.headers;
  const site = req.headers["sec-fetch-site"];
  const foreign =
    origin !== undefined && (!URL.canParse(origin) || new URL(origin).host !== req.headers.host);
  if (foreign || site === "cross-site") {
    return say(403, "This came from another site and was not carried out.")(req, res);
  }
  const json = /^\/(bench|devices)\//.test(req.path);
  if (json && !/^application\/json\b/.test(req.headers["content-type"] ?? "")) {
    return say(415, "Send this as JSON.")(req, res);
  }
  next();
};

/** Answers that are a person's own are kept nowhere; a page that was asked for in advance may be used once, at once. */
export const privateAnswers: RequestHandler = (req, res, next) => {
  const ahead = req.headers["sec-purpose"]?.includes("prefetch") || req.headers.purpose === "prefetch";
  res.setHeader("Cache-Control", ahead ? "private, max-age=3" : "private, no-store");
  next();
};

const limited = (limit: number, counts: (method: string) => boolean = (method) => method === "POST") =>
  rateLimit({
    windowMs: 60_000,
    limit,
    standardHeaders: "draft-8",
    legacyHeaders: false,
    skip: (req) => !counts(req.method),
    handler: say(429, "Too many of these in a minute. Wait a little, then try again."),
  });

/** What is open or asked by programs is throttled: signing in, the first steps, calculators, reading with a key. */
export const throttles = (): [path: string, limit: RequestHandler][] => [
  ["/sign-in", limited(config().BRINTEL_SIGN_INS_PER_MINUTE)],
  ["/start", limited(config().BRINTEL_SIGN_INS_PER_MINUTE)],
  ["/api/calculators", limited(300)],
  ["/api/v1", limited(600, () => true)],
];
