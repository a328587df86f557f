import { describe, expect, it } from "vitest";
import { lookingAgain } from "./lookingAgain";

/** A page and a server: the page shows what was there when it was loaded, its rail what was there a moment before. */
function page() {
  const server = { events: 1 };
  const shown = { events: 1, rail: 1 };
  let loads = 0;
  /** Done between the reading of the rail and that of the events, once. */
  let meanwhile: () => void = () => undefined;
  const look = lookingAgain(
    async () => server.events > shown.events,
    async () => {
      loads++;
      const rail = server.events;
      await Promise.resolve();
      meanwhile();
      meanwhile = () => undefined;
      Object.assign(shown, { rail, events: server.events });
    },
  );
  return {
    look,
    server,
    shown,
    loads: () => loads,
    between(happens: () => void) {
      meanwhile = happens;
    },
  };
}

describe("a page that others can change", () => {
  it("is loaded when something is new, and not when nothing is", async () => {
    const { look, server, shown, loads } = page();
    await look();
    expect(loads()).toBe(0);
    server.events = 3;
    await look();
    expect([loads(), shown.events]).toEqual([1, 3]);
  });

  it("shows everywhere what was sent from it, also when that was kept while the page was being loaded", async () => {
    const { look, server, shown, between } = page();
    server.events = 2;
    between(() => {
      server.events = 3;
    });
    await look();
    // The events are all there; the rail was read a moment before.
    expect(shown).toEqual({ events: 3, rail: 2 });
    // The answer to what was sent comes now: whoever only counted events would find nothing new.
    await look();
    expect(shown.rail).toBe(2);
    await look(true);
    expect(shown).toEqual({ events: 3, rail: 3 });
  });

  it("looks once more when it is asked while it looks, and is sure of what it owes", async () => {
    const { look, server, shown, loads, between } = page();
    server.events = 2;
    between(() => {
      server.events = 3;
      void look(true);
      void look();
    });
    await look();
    expect(shown).toEqual({ events: 3, rail: 3 });
    expect(loads()).toBe(2);
  });

  it("stays as it is when the server is not reached, and makes up for it later", async () => {
    let there = false;
    let loads = 0;
    const look = lookingAgain(
      async () => {
        if (!there) throw new TypeError("no network");
        return false;
      },
      async () => {
        loads++;
      },
    );
    await look(true);
    expect(loads).toBe(0);
    there = true;
    await look();
    expect(loads).toBe(1);
    await look();
    expect(loads).toBe(1);
  });
});
