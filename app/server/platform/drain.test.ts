import type { AddressInfo } from "node:net";
import compression from "compression";
import express from "express";
import { describe, expect, it } from "vitest";
import { oneDrainListener } from "./drain";

/** A long answer written as the application's adapter writes it: it waits for every drain, and lets go after. */
async function longAnswer(withOne: boolean): Promise<{ body: string; warned: number }> {
  const app = express();
  app.use(compression());
  if (withOne) app.use(oneDrainListener);
  const line = `${"0123456789".repeat(3000)}\n`;
  app.get("/", async (_req, res) => {
    res.type("text/plain");
    for (let i = 0; i < 400; i++) {
      if (res.write(line)) continue;
      await new Promise<void>((drained) => {
        const heard = () => {
          res.off("drain", heard);
          drained();
        };
        res.once("drain", heard);
      });
    }
    res.end();
  });
  let warned = 0;
  const count = (warning: Error) => {
    if (warning.name === "MaxListenersExceededWarning") warned++;
  };
  process.on("warning", count);
  const server = app.listen(0);
  await new Promise((listening) => server.once("listening", listening));
  const { port } = server.address() as AddressInfo;
  const body = await (await fetch(`http://127.0.0.1:${port}/`)).text();
  await new Promise((closed) => server.close(closed));
  await new Promise((later) => setTimeout(later, 0));
  process.off("warning", count);
  return { body, warned };
}

describe("a long compressed answer", () => {
  it("piles up no listeners, and arrives whole", async () => {
    const { body, warned } = await longAnswer(true);
    expect(body).toHaveLength(400 * 30_001);
    expect(warned).toBe(0);
  });
  it("would pile them up under the compressor alone", async () => {
    expect((await longAnswer(false)).warned).toBeGreaterThan(0);
  });
});
