import { ulid } from "ulid";
import { describe, expect, it } from "vitest";
import { type NewEvent, replay } from "../bench/event";
import { bottleTypeOf } from "./bottleTypes";
import { addedTo, purgeAt, type VisitState, visitFolding } from "./visit";
import { noLook, noPlan, planSchema, type VisitEvent, type VisitPlan, visitEventSchema } from "./visitEvents";
import { samplingFindings, visitFindings } from "./visitFindings";
import { bottleStep, missing, visitTodo } from "./visitTodo";

const type = (id: string) =>
  bottleTypeOf(id) ??
  (() => {
    throw new Error(id);
  })();
const plan: VisitPlan = {
  ...noPlan,
  air: true,
  look: true,
  clarity: true,
  measurands: ["ph", "oxygen"],
  methods: [{ id: "nitrate-strip", name: "Nitrate, strip", parameters: ["nitrate"] }],
  bottles: [type("oxygen-pair"), type("nutrients-filtered"), type("sterile")],
};

let clock = Date.parse("2026-04-12T10:00:00Z");
const said = (event: NewEvent<VisitEvent>, later_s = 60): VisitEvent => {
  clock += later_s * 1000;
  return { id: ulid(clock), at: new Date(clock).toISOString(), by: "noor", ...event } as VisitEvent;
};
const begun = (changed: Partial<VisitPlan> = {}): VisitEvent[] => [
  said({ type: "started", site: { id: "s", name: "Bathing pond" }, plan: { ...plan, ...changed } }),
  said({ type: "arrived", people: "Noor", position: null, back_by: null }),
];
function fold(events: readonly VisitEvent[]): VisitState {
  const { state } = replay(events, visitFolding);
  if (!state) throw new Error("A visit without a beginning.");
  return state;
}
const refused = (events: readonly VisitEvent[]) => replay(events, visitFolding).refused.map((r) => r.code);
const sample = (code: string) => ({ id: ulid(clock), code });

describe("a visit", () => {
  it("has an empty list that is what an empty document reads as", () => {
    const { labels: _l, depth_cm: _d, air_s: _a, ...said } = noPlan;
    expect(planSchema.parse(said)).toEqual(noPlan);
  });

  it("begins with the arrival, and what comes before is refused", () => {
    const [start] = begun() as [VisitEvent];
    expect(refused([start, said({ type: "hung" })])).toEqual(["not-arrived"]);
    expect(
      refused([...begun(), said({ type: "arrived", people: "", position: null, back_by: null })]),
    ).toEqual(["arrived"]);
  });

  it("cannot be left while the air thermometer hangs", () => {
    const hung = [...begun(), said({ type: "hung" }), said({ type: "air-read", value_c: 9.5 }, 300)];
    expect(refused([...hung, said({ type: "finished" })])).toEqual(["thermometer"]);
    expect(fold([...hung, said({ type: "fetched" }), said({ type: "finished" })]).status).toBe("finished");
  });

  it("names what was planned and is not done, and not what is", () => {
    const state = fold([
      ...begun({ bottles: [] }),
      said({
        type: "looked",
        look: { ...noLook, weather: "clear" },
      }),
    ]);
    const works = [
      {
        id: "w",
        kind: "reading" as const,
        method_id: null,
        measurands: ["ph" as const],
        status: "finished" as const,
      },
    ];
    expect(missing(visitTodo(state, works, clock))).toEqual([
      "Air temperature",
      "Dissolved oxygen",
      "Nitrate, strip",
      "Clarity",
    ]);
  });

  it("is the same in whatever order its events arrive", () => {
    const events = [...begun(), said({ type: "hung" }), said({ type: "air-read", value_c: 8 }, 400)];
    expect(fold([...events].reverse())).toEqual(fold(events));
  });
});

describe("a bottle", () => {
  const nutrients = 1;
  it("is led by its type: rinse, fill, filter, onto ice", () => {
    const steps: (string | null)[] = [];
    const events = begun();
    const step = () => {
      const state = fold(events);
      const bottle = state.bottles[nutrients];
      steps.push(bottle ? bottleStep(type("nutrients-filtered"), bottle) : "none");
    };
    step();
    for (let i = 0; i < 3; i++) events.push(said({ type: "rinsed", bottle: nutrients }));
    step();
    events.push(said({ type: "filled", bottle: nutrients, sample: sample("BP-2"), depth_cm: 15 }));
    step();
    events.push(said({ type: "filtered", bottle: nutrients, outcome: "filtered" }));
    step();
    events.push(said({ type: "stored", bottle: nutrients }));
    step();
    expect(steps).toEqual(["rinse", "fill", "filter", "store", null]);
    expect(samplingFindings(fold(events), nutrients)).toEqual([]);
  });

  it("with a bubble is emptied, both of a pair, and filled anew under its own name; once dosed it cannot be", () => {
    const pair = 0;
    const events = [
      ...begun(),
      said({ type: "rinsed", bottle: pair }),
      said({ type: "filled", bottle: pair, sample: sample("BP-1"), depth_cm: 15 }),
      said({ type: "bubble", bottle: pair }),
    ];
    expect(fold(events).bottles[pair]).toMatchObject({
      filled_at: null,
      bubbles: 1,
      sample: { code: "BP-1" },
    });
    events.push(said({ type: "filled", bottle: pair, sample: sample("BP-1"), depth_cm: 15 }));
    events.push(said({ type: "fixed", bottle: pair }));
    expect(refused([...events, said({ type: "bubble", bottle: pair })])).toEqual(["fixed"]);
    expect(samplingFindings(fold(events), pair)).toEqual([]);
  });

  it.each([
    ["rinsed although it must not be", 2, 1, 15, "rinsed-that-must-not"],
    ["rinsed too seldom", 1, 2, 15, "rinses-short"],
    ["taken at a depth that nobody wrote down", 2, 0, null, "depth-not-recorded"],
  ] as const)("%s is said so of all that is measured of it", (_words, bottle, rinses, depth_cm, rule) => {
    const events = [
      ...begun(),
      ...Array.from({ length: rinses }, () => said({ type: "rinsed", bottle })),
      said({ type: "filled", bottle, sample: sample("X"), depth_cm }),
    ];
    if (bottle === 1) events.push(said({ type: "filtered", bottle, outcome: "filtered" }));
    events.push(said({ type: "stored", bottle }));
    const found = samplingFindings(fold(events), bottle);
    expect(found.map((f) => f.rule)).toEqual([rule]);
    expect(found[0]?.severity).toBe("qualify");
  });

  it("of filtered water goes without its acid when it cannot be filtered, and what was added is what was", () => {
    const metals = type("metals-filtered");
    const filled = [
      ...begun({ bottles: [metals] }),
      ...[1, 2, 3].map(() => said({ type: "rinsed", bottle: 0 })),
      said({ type: "filled", bottle: 0, sample: sample("M"), depth_cm: 15 }),
    ];
    const having = (...events: VisitEvent[]) => {
      const state = fold([...filled, ...events]);
      const [bottle] = state.bottles;
      if (!bottle) throw new Error("There is one bottle.");
      return { state, step: bottleStep(metals, bottle), added: addedTo(metals, bottle) };
    };
    const clear = said({ type: "filtered", bottle: 0, outcome: "filtered" });
    expect(having(clear)).toMatchObject({ step: "fix", added: null });
    const acid = said({ type: "fixed", bottle: 0 });
    expect(having(clear, acid)).toMatchObject({ step: "store", added: metals.preservative });

    const turbid = said({ type: "filtered", bottle: 0, outcome: "too-turbid" });
    const { state, step, added } = having(turbid);
    expect([step, added]).toEqual(["store", null]);
    expect(samplingFindings(state, 0)[0]?.action).toContain("Add nothing to it.");
    const cold = having(turbid, said({ type: "stored", bottle: 0 })).state;
    expect(visitTodo(cold, [], clock).find((t) => t.key === "bottle-0")?.state).toBe("done");
    // What came without a visit holds what its type says.
    expect(addedTo(metals, undefined)).toBe(metals.preservative);
    expect(addedTo(type("general"), undefined)).toBeNull();
  });

  it("that comes with its preservative in it is never to be dosed; any other that was not is said so", () => {
    const sterile = type("sterile");
    const olderSterile = { already_in: false, preservative: "thiosulfate, already in the bottle" };
    const pair = type("oxygen-pair");
    const state = fold([
      ...begun({ bottles: [sterile, pair, { ...sterile, ...olderSterile }] }),
      ...[0, 1, 2].map((bottle) =>
        said({ type: "filled", bottle, sample: sample(`S${bottle}`), depth_cm: 15 }),
      ),
    ]);
    const about = state.bottles.map((bottle, i) => {
      const own = state.plan.bottles[i] ?? sterile;
      return [
        bottleStep(own, bottle),
        addedTo(own, bottle),
        samplingFindings(state, i)
          .map((f) => f.rule)
          .join(),
      ];
    });
    expect(about).toEqual([
      ["store", "thiosulfate", "not-cooled"],
      ["fix", null, "rinses-short,not-preserved"],
      ["store", olderSterile.preservative, "not-cooled"],
    ]);
  });

  it("with a bubble is no longer on ice when it is filled anew", () => {
    const filled = () => said({ type: "filled", bottle: 0, sample: sample("I"), depth_cm: 15 });
    const events = [
      ...begun({ bottles: [{ ...type("general"), fill: "brim" }] }),
      filled(),
      said({ type: "stored", bottle: 0 }),
      said({ type: "bubble", bottle: 0 }),
      filled(),
    ];
    expect(fold(events).bottles[0]).toMatchObject({ stored_at: null, bubbles: 1 });
  });

  // 40 CFR 136.3, table II (from memory): nitrate at most 6 °C; metals are kept by their acid.
  it.each([
    ["general", ["not-cooled"]],
    ["metals-filtered", []],
    ["oxygen-pair", []],
  ] as const)("%s that never went onto ice: %j", (id, rules) => {
    const own = type(id);
    const events = [
      ...begun({ bottles: [own] }),
      ...Array.from({ length: own.rinses }, () => said({ type: "rinsed", bottle: 0 })),
      said({ type: "filled", bottle: 0, sample: sample("W"), depth_cm: 15 }),
      ...(own.filter ? [said({ type: "filtered", bottle: 0, outcome: "filtered" })] : []),
      ...(own.preservative ? [said({ type: "fixed", bottle: 0 })] : []),
    ];
    expect(samplingFindings(fold(events), 0).map((f) => f.rule)).toEqual(rules);
    const cooled = fold([...events, said({ type: "stored", bottle: 0 })]);
    expect(samplingFindings(cooled, 0)).toEqual([]);
  });

  it("too turbid to filter is an outcome, and done", () => {
    const events = [
      ...begun(),
      ...[1, 2, 3].map(() => said({ type: "rinsed", bottle: nutrients })),
      said({ type: "filled", bottle: nutrients, sample: sample("Y"), depth_cm: 15 }),
      said({ type: "filtered", bottle: nutrients, outcome: "too-turbid" }),
      said({ type: "stored", bottle: nutrients }),
    ];
    const state = fold(events);
    expect(samplingFindings(state, nutrients).map((f) => f.rule)).toEqual(["too-turbid-to-filter"]);
    expect(visitTodo(state, [], clock).find((t) => t.key === "bottle-1")?.state).toBe("done");
  });
});

describe("a well", () => {
  const well = (bottles = [type("general")]) => begun({ bottles, well: { volumes: 3, rounds: 3 } });

  it("is dipped before it is pumped", () => {
    expect(refused([...well(), said({ type: "flow", litres: 10, seconds: 20 })])).toEqual(["not-dipped"]);
    const dip = { depth_m: 10, level_m: 12, diameter_mm: 150 };
    expect(visitEventSchema.safeParse(said({ type: "dipped", dip })).success).toBe(false);
  });

  it("asks for three of its volumes, and says what was sampled too early and unsteady", () => {
    const start = well();
    const dip = said({ type: "dipped", dip: { depth_m: 24, level_m: 14, diameter_mm: 150 } });
    const flow = said({ type: "flow", litres: 10, seconds: 20 });
    const rounds = [7.2, 7.24, 7.22].map((ph) => said({ type: "round", values: { ph } }, 330));
    const rinsed = [1, 2, 3].map(() => said({ type: "rinsed", bottle: 0 }, 1));
    const filled = said({ type: "filled", bottle: 0, sample: sample("E1-1"), depth_cm: null }, 90);
    const cold = said({ type: "stored", bottle: 0 });
    const state = fold([...start, dip, flow, ...rounds, ...rinsed, filled, cold]);
    // Source: common practice: 10 m of water in 150 mm are 177 L; three times 530 L.
    expect(purgeAt(state, clock)?.wanted_l).toBeCloseTo(530.1, 1);
    expect(samplingFindings(state, 0)).toEqual([]);

    const early = { ...filled, at: flow.at } as VisitEvent;
    const soon = fold([
      ...start,
      dip,
      flow,
      ...rounds,
      ...rinsed.map((r) => ({ ...r, at: flow.at })),
      early,
      cold,
    ]);
    expect(samplingFindings(soon, 0).map((f) => f.rule)).toEqual(["purge-short", "not-stable"]);
  });
});

describe("the air thermometer", () => {
  it.each([
    [299, ["air-too-early"]],
    [300, []],
  ])("read after %s s", (seconds, rules) => {
    const state = fold([...begun(), said({ type: "hung" }), said({ type: "air-read", value_c: 8 }, seconds)]);
    expect(visitFindings(state).map((f) => f.rule)).toEqual(rules);
  });
});

describe("a disc", () => {
  const clarity = (c: object) =>
    visitEventSchema.safeParse(
      said({
        type: "clarity",
        clarity: { disc_cm: 20, disappears_cm: 184, reappears_cm: 176, depth_cm: null, ...c },
      }),
    );
  it("is seen to a depth, or on the bottom; one of two is not enough, and no disc is deeper than the water", () => {
    expect(clarity({}).success).toBe(true);
    expect(clarity({ disappears_cm: null, reappears_cm: null, depth_cm: 90 }).success).toBe(true);
    expect(clarity({ disappears_cm: null, reappears_cm: null }).success).toBe(false);
    expect(clarity({ reappears_cm: null }).success).toBe(false);
    expect(clarity({ depth_cm: 150 }).success).toBe(false);
  });
});
