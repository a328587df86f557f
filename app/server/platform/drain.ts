import type { RequestHandler, Response } from "express";

/**
 * The compressor hears "drain" on a stream of its own and never lets a listener go: a long answer would pile them up.
 * One listener stays for the whole answer, and tells whoever waits. Goes right after the compressor.
 */
export const oneDrainListener: RequestHandler = (_req, res, next) => {
  const waiting = new Set<() => void>();
  const once = res.once.bind(res) as (event: string, tell: () => void) => Response;
  const off = res.off.bind(res) as typeof once;
  let listens = false;
  const listenOnce: typeof once = (event, tell) => {
    if (event !== "drain") return once(event, tell);
    waiting.add(tell);
    if (!listens) {
      listens = true;
      res.on("drain", () => {
        const all = [...waiting];
        waiting.clear();
        for (const told of all) told();
      });
    }
    return res;
  };
  const letGo: typeof off = (event, tell) => {
    if (event !== "drain") return off(event, tell);
    waiting.delete(tell);
    return res;
  };
  Object.assign(res, { once: listenOnce, off: letGo });
  next();
};
