import type { Folding } from "../bench/event";
import { inOrder } from "../quantity/inOrder";
import { err, ok, type Result } from "../quantity/result";
import type { BatchHead, CustodyEvent, CustodySample, LabResult, Seal, WantedTest } from "./custodyEvents";

/** The samples changed hands: who gave them to whom, when, how cold, and how they were closed. */
export interface Handover {
  at: string;
  from: string;
  to: string;
  temperature_c: number | null;
  seal: Seal;
  /** At the laboratory's door. */
  receipt: boolean;
}

export interface SampleInBatch extends CustodySample {
  /** Tests that were asked for after it had been received. */
  added: WantedTest[];
}

/** A result as it came, and with which file. */
export interface CameResult extends LabResult {
  came_at: string;
  file: { name: string; sha256: string };
}

export interface CustodyState {
  status: "open" | "finished" | "abandoned";
  batch: BatchHead;
  samples: SampleInBatch[];
  cooler: { at: string; fresh_ice: boolean; temperature_c: number | null }[];
  handovers: Handover[];
  /** When the laboratory had them. */
  received_at: string | null;
  absent: string[];
  /** The newest result of each test of each sample. */
  results: CameResult[];
  notes: { at: string; by: string; text: string }[];
  started_at: string;
  finished_at: string | null;
}

/** Samples in the order in which they are wanted: those that keep least first. Check value: microbiology (24 h) before nutrients (48 h). */
const urgentFirst = <S extends Pick<CustodySample, "keeps_until" | "code">>(samples: readonly S[]): S[] =>
  [...samples].sort((a, b) => inOrder(a.keeps_until, b.keeps_until) || inOrder(a.code, b.code));

/** Who has the samples now: the last who was given them. */
export const holderOf = ({ batch, handovers }: Pick<CustodyState, "batch" | "handovers">): string =>
  handovers.at(-1)?.to ?? batch.holder;

/** How a batch's events turn into its state. */
export const custodyFolding: Folding<CustodyState, CustodyEvent> = {
  inOrderOfTime: true,
  undoable: ({ type }) => ["cooled", "handed-over", "received", "test-added"].includes(type),
  apply(state, event) {
    if (event.type === "started") {
      if (state) return err("already-started", "This batch exists already.");
      return ok({
        status: "open",
        batch: event.batch,
        samples: urgentFirst(event.samples).map((s) => ({ ...s, added: [] })),
        cooler: [],
        handovers: [],
        received_at: null,
        absent: [],
        results: [],
        notes: [],
        started_at: event.at,
        finished_at: null,
      });
    }
    if (!state) return err("not-started", "This batch does not exist yet.");
    if (event.type === "noted")
      return ok({ ...state, notes: [...state.notes, { at: event.at, by: event.by, text: event.text }] });
    if (state.status === "abandoned") return err("closed", "This batch was given up. Make a new one.");
    // What a laboratory sends late, or corrects, still belongs to its batch.
    if (event.type === "results") return came(state, event);
    if (state.status !== "open") return err("closed", "This batch is closed.");
    return happened(state, event);
  },
};

type Happened = Exclude<CustodyEvent, { type: "undone" | "started" | "noted" | "results" }>;

function happened(state: CustodyState, event: Happened): Result<CustodyState> {
  switch (event.type) {
    case "cooled": {
      const { at, fresh_ice, temperature_c } = event;
      return state.received_at
        ? err("received", "The laboratory has them already.")
        : ok({ ...state, cooler: [...state.cooler, { at, fresh_ice, temperature_c }] });
    }
    case "test-added":
      return withTest(state, event.sample_id, event.test);
    case "handed-over":
    case "received":
      return changedHands(state, event);
    case "abandoned":
      return state.results.length
        ? err("has-results", "Results have come for it: it is closed, not given up.")
        : ok({ ...state, status: "abandoned", finished_at: event.at });
    case "finished":
      return ok({ ...state, status: "finished", finished_at: event.at });
  }
}

/** A device's clock may be so far ahead, ms. */
const clockSlack = 120_000;

function changedHands(
  state: CustodyState,
  event: Extract<CustodyEvent, { type: "handed-over" | "received" }>,
): Result<CustodyState> {
  const { happened_at, from, to, temperature_c, seal } = event;
  const receipt = event.type === "received";
  if (Date.parse(happened_at) > Date.parse(event.at) + clockSlack)
    return err("in-the-future", "That lies in the future. Look at the time again.");
  if (state.received_at && (receipt || happened_at > state.received_at))
    return err("received", "The laboratory has them already.");
  if (receipt && state.handovers.some((h) => h.at > happened_at))
    return err("before-handover", "They changed hands after that: the receipt is the last.");
  const absent = event.type === "received" ? event.absent : state.absent;
  if (absent.some((id) => !state.samples.some((s) => s.id === id)))
    return err("no-such-sample", "A sample that is said to be missing is not in this batch.");
  const hop: Handover = { at: happened_at, from, to, temperature_c, seal, receipt };
  return ok({
    ...state,
    // One that is written down late stands where it belongs.
    handovers: [...state.handovers, hop].sort((a, b) => inOrder(a.at, b.at)),
    received_at: receipt ? happened_at : state.received_at,
    absent,
  });
}

function withTest(state: CustodyState, sampleId: string, test: WantedTest): Result<CustodyState> {
  const sample = state.samples.find((s) => s.id === sampleId);
  if (!sample) return err("no-such-sample", "This batch has no such sample.");
  if ([...sample.tests, ...sample.added].some((t) => t.parameter === test.parameter))
    return err("asked-already", `${test.name} is asked for already.`);
  // Before anybody has taken the paper along, a test is simply one more.
  const key = state.handovers.length ? "added" : "tests";
  const changed = { ...sample, [key]: [...sample[key], test] };
  return ok({ ...state, samples: state.samples.map((s) => (s.id === sampleId ? changed : s)) });
}

function came(state: CustodyState, event: Extract<CustodyEvent, { type: "results" }>): Result<CustodyState> {
  const known = new Set(state.samples.map((s) => s.id));
  if (event.results.some((r) => !known.has(r.sample_id)))
    return err("no-such-sample", "A result is of a sample that is not in this batch.");
  const key = (r: LabResult) => `${r.sample_id} ${r.parameter}`;
  const fresh = new Map(
    event.results.map((r) => [key(r), { ...r, came_at: event.at, file: event.file }] as const),
  );
  return ok({
    ...state,
    results: [...state.results.filter((r) => !fresh.has(key(r))), ...fresh.values()],
  });
}

/** A test of a sample for which no result has come. */
export interface Awaited {
  sample_id: string;
  code: string;
  test: WantedTest;
}

/** What was asked for and has not come yet. Check value: three tests of which one came leave two. */
export const awaited = ({ samples, results }: Pick<CustodyState, "samples" | "results">): Awaited[] =>
  samples.flatMap((s) =>
    [...s.tests, ...s.added].flatMap((test) =>
      results.some((r) => r.sample_id === s.id && r.parameter === test.parameter)
        ? []
        : [{ sample_id: s.id, code: s.code, test }],
    ),
  );

/** What is to be done next with a batch. */
export type CustodyStep = "ice" | "hand-over" | "results" | "close" | "over";

/** The next step. Check value: a new batch asks first for fresh ice. */
export function custodyStep(state: CustodyState): CustodyStep {
  if (state.status !== "open") return "over";
  if (state.received_at) return awaited(state).length ? "results" : "close";
  const cold = state.samples.some((s) => s.arrives_c !== null);
  return cold && state.cooler.length === 0 && state.handovers.length === 0 ? "ice" : "hand-over";
}
