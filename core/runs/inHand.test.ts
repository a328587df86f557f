import { describe, expect, it } from "vitest";
import { libraryMethod, RunPlayer } from "../simulation/runPlayer";
import { inHand, meanwhile, standingsOf } from "./inHand";
import { currentStep } from "./runState";

/** A run of duplicates whose first tube waits for its colour. */
function firstWaits() {
  const player = new RunPlayer(libraryMethod("phosphate-photometer"));
  for (;;) {
    const step = currentStep(player.state, 0);
    if (!step) throw new Error("The run is over.");
    if (standingsOf(player.state, player.clock)[0]?.wait) return player;
    player.happen({ type: "done", replicate: 0, step: step.id }, step.kind === "wait" ? 0 : step.hands_s);
  }
}

describe("where replicates stand", () => {
  it("says that the first waits and the second is ready, and when the first is due", () => {
    const { state, clock } = firstWaits();
    expect(standingsOf(state, clock).map((s) => s.kind)).toEqual(["waiting", "ready"]);
    const due = standingsOf(state, clock)[0]?.wait?.due ?? 0;
    expect(standingsOf(state, due).map((s) => s.kind)).toEqual(["due", "ready"]);
  });

  it("has nothing to say of a run that is over", () => {
    const player = new RunPlayer(libraryMethod("phosphate-photometer")).play(0.5);
    expect(standingsOf(player.state, player.clock)).toEqual([]);
  });
});

describe("what can be done meanwhile", () => {
  it("is the second while there is time for its hands, and nothing shortly before the first closes", () => {
    const { state, clock } = firstWaits();
    expect(meanwhile(state, clock, 0)?.replicate).toBe(1);
    const closes = standingsOf(state, clock)[0]?.wait?.closes ?? 0;
    expect(closes).toBeGreaterThan(clock);
    expect(meanwhile(state, closes - 5000, 0)).toBeNull();
  });

  it("is the one whose clock has rung, whatever else is ready", () => {
    const { state, clock } = firstWaits();
    const due = standingsOf(state, clock)[0]?.wait?.due ?? 0;
    expect(meanwhile(state, due + 1000, 1)).toMatchObject({ replicate: 0, kind: "due" });
  });

  it("is nothing when there is one replicate only", () => {
    const player = new RunPlayer(libraryMethod("nitrite-nitrate-strip"));
    expect(meanwhile(player.state, player.clock, 0)).toBeNull();
  });
});

describe("the card that is shown", () => {
  it("is the first, then the chosen one as long as hands can work on it", () => {
    const { state, clock } = firstWaits();
    const standings = standingsOf(state, clock);
    expect(inHand(standings, null)?.replicate).toBe(0);
    expect(inHand(standings, 1)?.replicate).toBe(1);
    expect(inHand([], null)).toBeNull();
  });

  it("is the one whose clock rings first when the chosen one waits", () => {
    const player = firstWaits();
    // The second replicate, up to its own wait.
    for (let last = standingsOf(player.state, player.clock)[1]; last?.kind === "ready"; ) {
      player.happen({ type: "done", replicate: 1, step: last.step.id }, 10);
      last = standingsOf(player.state, player.clock)[1];
    }
    const standings = standingsOf(player.state, player.clock);
    expect(standings.map((s) => s.kind)).toEqual(["waiting", "waiting"]);
    expect(inHand(standings, 1)?.replicate).toBe(0);
    const rung = standings[0]?.wait?.due ?? 0;
    expect(inHand(standingsOf(player.state, rung), 1)?.replicate).toBe(0);
  });
});
