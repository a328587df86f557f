import "fake-indexeddb/auto";
import { ulid } from "ulid";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { sendWaiting } from "./send";
import { forget, keepUnsent, waitingOf } from "./store";

/** A server that answers as it is told, and remembers what it was sent. */
function server(answer: (ids: string[]) => { id: string; is: string; code?: string; message?: string }[]) {
  const batches: string[][] = [];
  vi.stubGlobal("fetch", async (url: string, { body }: { body: string }) => {
    const ids = (JSON.parse(body) as { events: { id: string }[] }).events.map((e) => e.id);
    batches.push(ids);
    return new Response(JSON.stringify({ now: Date.now(), answers: answer(ids), url }));
  });
  return batches;
}
const keepsAll = (ids: string[]) => ids.map((id) => ({ id, is: "kept" }));
const unreachable = () => vi.stubGlobal("fetch", () => Promise.reject(new TypeError("Failed to fetch")));

const capture = (id = ulid()) => ({ id, type: "noted" });
let noor = "";
let idris = "";
beforeEach(() => {
  noor = ulid();
  idris = ulid();
});
afterEach(() => vi.unstubAllGlobals());
const idsOf = async (person: string) => (await waitingOf(person)).map((w) => w.id);

describe("what is not sent yet", () => {
  it("is kept until the server has it, and sent in its order", async () => {
    const events = [capture(), capture(), capture()];
    for (const event of events) await keepUnsent(noor, "w", event);
    unreachable();
    expect((await sendWaiting(noor)).trouble).toContain("kept in this browser");
    expect(await idsOf(noor)).toEqual(events.map((e) => e.id));
    const batches = server(keepsAll);
    expect(await sendWaiting(noor)).toEqual({ kept: 3, trouble: null });
    expect(batches).toEqual([events.map((e) => e.id)]);
    expect(await idsOf(noor)).toEqual([]);
  });

  it("loses nothing to one event that is refused: that one stays, with its sentence", async () => {
    const events = [capture(), capture(), capture()];
    for (const event of events) await keepUnsent(noor, "w", event);
    server((ids) =>
      ids.map((id) =>
        id === events[1]?.id
          ? { id, is: "refused", code: "not-its-turn", message: "Another step comes first." }
          : { id, is: "kept" },
      ),
    );
    expect(await sendWaiting(noor)).toEqual({ kept: 2, trouble: null });
    expect((await waitingOf(noor)).map((w) => [w.id, w.refused])).toEqual([
      [events[1]?.id, "Another step comes first."],
    ]);
    const again = server(keepsAll);
    await sendWaiting(noor);
    expect(again, "what was refused is not sent again by itself").toEqual([]);
    await forget([events[1]?.id ?? ""]);
    expect(await idsOf(noor)).toEqual([]);
  });

  it("goes in chunks, however much it is", async () => {
    for (let i = 0; i < 230; i++) await keepUnsent(noor, "w", capture());
    const batches = server(keepsAll);
    expect(await sendWaiting(noor)).toEqual({ kept: 230, trouble: null });
    expect(batches.map((b) => b.length)).toEqual([100, 100, 30]);
  });

  it("belongs to who made it: another person neither sees nor sends it", async () => {
    const event = capture();
    await keepUnsent(noor, "w", event);
    const batches = server(keepsAll);
    expect(await waitingOf(idris)).toEqual([]);
    await sendWaiting(idris);
    expect(batches).toEqual([]);
    expect(await idsOf(noor)).toEqual([event.id]);
  });

  it("counts what the server knew already as sent", async () => {
    const event = capture();
    await keepUnsent(noor, "w", event);
    server((ids) => ids.map((id) => ({ id, is: "known" })));
    await sendWaiting(noor);
    expect(await idsOf(noor)).toEqual([]);
  });

  it("says what the server says when nobody is at the bench, and keeps everything", async () => {
    const event = capture();
    await keepUnsent(noor, "w", event);
    const message = "Choose who you are, then what you captured is sent: it is kept in this browser.";
    vi.stubGlobal("fetch", async () => new Response(JSON.stringify({ message }), { status: 401 }));
    expect(await sendWaiting(noor)).toEqual({ kept: 0, trouble: message });
    expect(await idsOf(noor)).toEqual([event.id]);
  });

  it("is not asked for for ever by a server that names none of it", async () => {
    await keepUnsent(noor, "w", capture());
    const batches = server(() => []);
    expect((await sendWaiting(noor)).trouble).not.toBeNull();
    expect(batches).toHaveLength(1);
  });
});
