import { type NewEvent, type Replay, replay, replayWith } from "../bench/event";
import { methodLibrary } from "../methods/library";
import type { Method, MethodStep } from "../methods/method";
import { namedMaterials } from "../methods/methodWords";
import type { Raw } from "../methods/raw";
import { runDuplicateRule } from "../results/runEvidence";
import { defaultHouseRules } from "../rules/houseRules";
import { runFolding } from "../runs/run";
import type { NamedLot, RunEvent, RunStarted } from "../runs/runEvents";
import { currentReplicate, currentStep, type RunState } from "../runs/runState";
import { CACO3_MG_PER_MEQ, carbonatePh } from "../runs/techniques/gran";
import { waitBefore } from "../runs/timing";

export const libraryMethod = (id: string): Method => {
  const method = methodLibrary.find((m) => m.id === id);
  if (!method) throw new Error(`The library has no method ${id}.`);
  return method;
};

/** When a run begins that says nothing else. */
const start = Date.parse("2026-04-12T08:00:00.000Z");
const alphabet = "0123456789ABCDEFGHJKMNPQRSTVWXYZ";
/** A valid id that sorts by its number. */
export const testId = (n: number): string => {
  let [rest, tail] = [n, ""];
  for (let i = 0; i < 16; i++) {
    tail = (alphabet[rest % 32] as string) + tail;
    rest = Math.floor(rest / 32);
  }
  return `01J0000000${tail}`;
};

export type Happening = NewEvent<RunEvent>;

/**
 * A patient technician with a clock of their own, who plays a run event by event: what tests record, and what the demo's
 * weeks are made of.
 */
export class RunPlayer {
  events: readonly RunEvent[] = [];
  clock: number;
  /** What the events come to. */
  replayed: Replay<RunState, RunEvent> = replay([], runFolding);

  constructor(
    method: Method,
    { lots, ...more }: Partial<Omit<RunStarted, "lots">> & { lots?: NamedLot[] } = {},
    begin = start,
  ) {
    const named =
      lots ??
      namedMaterials(method, Boolean(more.curve)).map((m) => ({
        material: m.key,
        name: m.name,
        code: "L-1",
        expires_on: "2027-01-01",
        reason: null,
      }));
    this.clock = begin;
    this.happen({
      type: "started",
      method,
      site: { id: "s", name: "Bathing pond" },
      sample: "BP-0412",
      temperature_c: 20,
      dilution: 1,
      dilutes: null,
      lots: named.map((l) => ({ lot_id: null, gives: [], ...l })),
      kit: null,
      strength: null,
      strength_uncertainty: null,
      blank_ml: null,
      table: null,
      expected: null,
      duplicates: runDuplicateRule(method, defaultHouseRules),
      disagree: "retest",
      ...more,
    } as Happening);
  }

  get state(): RunState {
    const { state } = this.replayed;
    if (!state) throw new Error("The run has not begun.");
    return state;
  }

  /** An event, so many seconds after the one before. */
  happen(event: Happening, after_s = 0): this {
    this.clock += after_s * 1000;
    const at = new Date(this.clock).toISOString();
    return this.arrives({ ...event, id: testId(this.events.length + 1), at, by: "p" } as RunEvent);
  }

  /** An event of somebody else, or of another time. */
  arrives(event: RunEvent): this {
    this.replayed = replayWith(this.replayed, this.events, event, runFolding);
    this.events = [...this.events, event];
    return this;
  }

  /** Does the steps of the replicate in hand, waits kept, until one of this kind is in hand. */
  until(kind: MethodStep["kind"]): MethodStep {
    for (;;) {
      const replicate = currentReplicate(this.state);
      const step = currentStep(this.state, replicate);
      if (!step) throw new Error("The run is over.");
      const wait = waitBefore(this.state, replicate, step);
      if (wait) this.clock = Math.max(this.clock, wait.due);
      if (step.kind === kind) return step;
      this.does(replicate, step);
    }
  }

  /** Does a step, with every rinse that it asks for. A step that was refused would come again for ever. */
  private does(replicate: number, step: MethodStep): this {
    const last = this.events.at(-1);
    if (last?.type === "done" && last.step === step.id && last.replicate === replicate)
      throw new Error(`“${step.text}” was refused.`);
    const rinses = step.kind === "do" ? step.rinses : 0;
    // Each at a moment of its own: moments put events in their order.
    const each_s = (step.kind === "wait" ? 0 : 1) / (rinses + 1);
    for (let i = 0; i < rinses; i++) this.happen({ type: "rinsed", replicate, step: step.id }, each_s);
    return this.happen({ type: "done", replicate, step: step.id, ...(rinses ? { rinses } : {}) }, each_s);
  }

  /** Reads what the technique reads, `size` being about the result in its own unit. */
  read(size: number): this {
    const step = this.until("read");
    const replicate = currentReplicate(this.state);
    for (const event of titrate(this.state.method, size, replicate)) this.happen(event, 1);
    return this.happen({ type: "read", replicate, step: step.id, raw: rawFor(this.state.method, size) });
  }

  /** Somebody else looks at the colour that was read last and sees so many steps more; the two then agree on the first. */
  secondLook(observer: string, more: number): this {
    const [read] = this.events.filter((e) => e.type === "read").slice(-1);
    if (read?.raw.kind !== "colour") throw new Error("Only colours get a second look.");
    const { replicate, step, raw } = read;
    const seen = { ...raw, step: Math.max(0, raw.step + more) };
    this.happen({ type: "second-look", replicate, step, raw: seen, observer }, 8);
    return seen.step === raw.step ? this : this.happen({ type: "agreed", replicate, step, raw }, 6);
  }

  /** What is left after the readings, and the end. */
  finish(): this {
    for (;;) {
      const replicate = currentReplicate(this.state);
      const step = currentStep(this.state, replicate);
      if (!step) return this.happen({ type: "finished" });
      this.does(replicate, step);
    }
  }

  /** Every replicate with about the same result, then finished; `afterRead` is done after each reading. */
  play(size: number, afterRead: () => void = () => undefined): this {
    const toRead = () => {
      const { replicates, method } = this.state;
      return replicates.reduce(
        (sum, r) => sum + method.steps.filter((s) => s.kind === "read" && !(s.id in r.reads)).length,
        0,
      );
    };
    for (let left = toRead(); left > 0; ) {
      this.read(size);
      const next = toRead();
      // A technician who is refused does not go on reading for ever.
      if (next === left) throw new Error(`${this.state.method.name} does not take a reading of ${size}.`);
      left = next;
      afterRead();
    }
    return this.finish();
  }
}

/** The titration's own events that lead to a result of about this size. */
function titrate({ measure }: Method, size: number, replicate: number): Happening[] {
  switch (measure.technique) {
    case "drops":
      return Array.from({ length: Math.round(size / measure.per_drop) }, () => ({ type: "drop", replicate }));
    case "syringe":
      return [
        { type: "scale-start", replicate, value: 0 },
        ...(size > measure.full
          ? ([{ type: "refill", replicate, before: measure.full, after: 0 }] as Happening[])
          : []),
        { type: "scale-end", replicate, value: size > measure.full ? size - measure.full : size },
      ];
    case "burette": {
      const used = {
        oxygen: size,
        alkalinity: size / 10,
        hardness: size / 20,
        chloride: size / 5 + measure.blank_ml,
      }[measure.formula];
      return [
        { type: "scale-start", replicate, value: 1 },
        { type: "scale-end", replicate, value: 1 + used },
      ];
    }
    case "ph-endpoint": {
      const alkalinity = size / (1000 * CACO3_MG_PER_MEQ);
      const end = (alkalinity * measure.sample_ml) / measure.strength;
      return Array.from({ length: 24 }, (_, k) => {
        const ml = (end * 1.3 * k) / 23;
        const dilution = measure.sample_ml / (measure.sample_ml + ml);
        const left = alkalinity * dilution - (measure.strength * ml) / (measure.sample_ml + ml);
        return { type: "point", replicate, ml, ph: carbonatePh(left, alkalinity * 1.04 * dilution) };
      });
    }
    default:
      return [];
  }
}

/** A raw reading of about this size. */
function rawFor({ measure }: Method, size: number): Raw {
  switch (measure.technique) {
    case "photometer-curve":
      return { kind: "number", value: measure.intercept + measure.slope * size };
    case "comparator": {
      const scale = measure.scales.findIndex((s) => (s.steps.at(-1)?.value ?? 0) >= size);
      const steps = measure.scales[Math.max(0, scale)]?.steps ?? [];
      const step = Math.max(
        0,
        steps.findLastIndex((s) => s.value <= size),
      );
      return {
        kind: "colour",
        scale: Math.max(0, scale),
        step,
        place: steps[step]?.value === size ? "at" : "between",
      };
    }
    case "strip":
      return { kind: "colour", scale: 0, step: 1, place: "at" };
    case "capillary":
      return { kind: "divisions", value: size };
    case "burette":
    case "syringe":
    case "drops":
    case "ph-endpoint":
      return { kind: "titrated" };
    case "visual":
      return measure.kind === "two-depths"
        ? { kind: "depths", disappears: size + 5, reappears: size - 5 }
        : measure.kind === "height"
          ? { kind: "height", value: size, bottom: false }
          : { kind: "number", value: size / measure.factor };
    default:
      return { kind: "number", value: size };
  }
}
