import { EventEmitter } from "node:events";
import { describe, expect, it } from "vitest";
import { piecesOf } from "./workers.server";

/** A thread that says what the test has it say. */
class Thread extends EventEmitter {
  asked = 0;
  ended = 0;
  postMessage() {
    this.asked++;
  }
  async terminate() {
    this.ended++;
    // A thread that is ended says a last word on its way, and that it is gone.
    this.emit("message", { piece: "too late" });
    this.emit("exit", 1);
    return 1;
  }
  say(word: object) {
    this.emit("message", word);
  }
}

describe("what a thread writes in pieces", () => {
  it("comes in order, one piece for each that was taken, and ends", async () => {
    const thread = new Thread();
    const reader = piecesOf(thread).getReader();
    for (const piece of ["a", "b"]) {
      const next = reader.read();
      thread.say({ piece });
      expect(await next).toEqual({ done: false, value: piece });
    }
    expect(thread.asked).toBeGreaterThanOrEqual(2);
    thread.say({ result: undefined });
    thread.emit("exit", 0);
    expect(await reader.read()).toEqual({ done: true, value: undefined });
  });

  it("is not heard any more once nobody reads, and stops no server", async () => {
    const thread = new Thread();
    const stream = piecesOf(thread);
    await stream.cancel();
    expect(thread.ended).toBe(1);
    for (const word of [{ piece: "later still" }, { result: 1 }, { error: { message: "gone" } }])
      expect(() => thread.say(word)).not.toThrow();
    expect(() => thread.emit("error", new Error("gone"))).not.toThrow();
  });

  it.each([
    ["it says what went wrong", (thread: Thread) => thread.say({ error: { message: "The disk is full." } })],
    ["it breaks", (thread: Thread) => thread.emit("error", new Error("The disk is full."))],
  ])("fails with its words when %s", async (_, happens) => {
    const thread = new Thread();
    const reader = piecesOf(thread).getReader();
    const next = reader.read();
    happens(thread);
    await expect(next).rejects.toThrow("The disk is full.");
    // What follows changes nothing.
    thread.emit("exit", 1);
    await expect(reader.read()).rejects.toThrow("The disk is full.");
  });

  it("fails when the thread is gone without a word", async () => {
    const thread = new Thread();
    const next = piecesOf(thread).getReader().read();
    thread.emit("exit", 1);
    await expect(next).rejects.toThrow("The worker ended before it was done.");
  });
});
