import { copyFileSync, mkdirSync, rmSync, writeFileSync } from "node:fs";
import { request } from "@playwright/test";
import demo from "../../demo/signIn.json" with { type: "json" };
import { loadTestDemo } from "../../scripts/lib/testDemo.mjs";
import { BrintelServer, cookieOf, demoTemplate, folder } from "./server";

/** Loads the demo data once, every test starts from a copy of it; and puts three people at its bench. */
export default async function prepare(): Promise<void> {
  // Whoever ran other steps before has loaded them meanwhile.
  const loaded = process.env.BRINTEL_TEST_DEMO;
  if (!loaded) await loadTestDemo(demoTemplate);
  else {
    rmSync(folder, { recursive: true, force: true });
    mkdirSync(folder, { recursive: true });
    copyFileSync(loaded, demoTemplate);
  }
  // Their sessions are in the file that every test copies.
  const server = await BrintelServer.on(demoTemplate);
  for (const person of ["Noor", "Maren", "Petra"] as const) {
    const client = await request.newContext({ baseURL: server.url });
    const people = await (await client.get("/sign-in")).text();
    const id = new RegExp(`as=([^"&]+)[^>]*>${person}`).exec(people)?.[1];
    if (!id) throw new Error(`${person} is not in the list of people.`);
    await client.post("/sign-in", {
      form: { person: id, do: "password", password: demo.password },
      headers: { Origin: server.url },
    });
    const { cookies, origins } = await client.storageState();
    // A browser drops what ends before its own day: these end with it.
    const state = { cookies: cookies.map((cookie) => ({ ...cookie, expires: -1 })), origins };
    writeFileSync(cookieOf(person), JSON.stringify(state));
    await client.dispose();
  }
  await server.stop();
}
