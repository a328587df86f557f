import { ok } from "../quantity/result";
import { counted, type Replicate, type RunState } from "./runState";
import { evaluate } from "./techniques/evaluate";
import { lessBack, volumeUsed } from "./techniques/volumes";

/**
 * What a replicate took to its end point, less what was added back: drops, or units of the scale. Null while that is not known. Check value: a
 * scale that went from 1 to 9.6 gave 8.6.
 */
export function amountOf({ method }: Pick<RunState, "method">, own: Replicate): number | null {
  const given = method.measure.technique === "drops" ? ok(own.drops) : volumeUsed(own.volumes);
  const used = lessBack(given, own.overshot);
  return used.ok ? used.value : null;
}

/**
 * What a titration takes for a result of this size, found from what two amounts would give: its formulas are lines. Drops, or units of the
 * scale; null where nothing is titrated by drops or a scale. Check value: 6 mg/L of oxygen at 1 mg/L a drop take 6 drops.
 */
export function amountFor(state: RunState, expected: number): number | null {
  const { method } = state;
  const result = (amount: number): number | null => {
    const gathered = {
      raw: { [method.result.parameter]: { kind: "titrated" as const } },
      drops: amount,
      volumes: { start: 0, refills: [], end: amount },
      points: [],
    };
    const wide = { ...method, range: { low: -1e9, high: 1e9 }, detection_limit: null };
    const found = evaluate(wide, gathered, state)[method.result.parameter];
    return found?.ok && found.value.found.kind === "value" ? found.value.found.value : null;
  };
  const [none, one] = [result(0), result(1)];
  if (none === null || one === null || one <= none) return null;
  return (expected - none) / (one - none);
}

/** So near the expected end, every drop counts. */
const share = 0.9;

/**
 * From what amount on a titration should go slowly: a tenth before the end of the first replicate, or before what this
 * water gave last. Drops, or units of the scale that have been given. Null when nothing is expected or nothing is titrated.
 * Source: common practice. Check value: 10 drops of 1 mg/L expected: from the ninth on.
 */
export function slowFrom(state: RunState, replicate: number): number | null {
  if (!["drops", "burette", "syringe"].includes(state.method.measure.technique)) return null;
  const before = counted(state).find((own) => own !== state.replicates[replicate]);
  const amount = before
    ? amountOf(state, before)
    : state.expected === null
      ? null
      : amountFor(state, state.expected);
  return amount !== null && amount > 0 ? share * amount : null;
}
