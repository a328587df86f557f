import { execFileSync } from "node:child_process";
import { mkdirSync, rmSync } from "node:fs";
import { request } from "@playwright/test";
import { BrintelServer, cookieOf, demoTemplate, folder } from "./server";

/** Loads the demo data once, every test starts from a copy of it; and puts two people at its bench. */
export default async function prepare(): Promise<void> {
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  execFileSync(process.execPath, ["scripts/run.mjs", "scripts/seed.ts"], {
    env: { ...process.env, BRINTEL_DATABASE: demoTemplate, BRINTEL_DEVICE_SPEED: "40" },
    stdio: "inherit",
  });
  const server = await BrintelServer.create("demo");
  for (const person of ["Noor", "Petra"] as const) {
    const client = await request.newContext({ baseURL: server.url });
    const people = await (await client.get("/people")).text();
    const id = new RegExp(`value="([^"]+)"[^>]*>${person}`).exec(people)?.[1];
    if (!id) throw new Error(`${person} is not in the list of people.`);
    await client.post("/people", { form: { person: id }, headers: { Origin: server.url } });
    await client.storageState({ path: cookieOf(person) });
    await client.dispose();
  }
  await server.kill();
}
