/** A bottle on the shelf that could be used today. */
export interface BufferCandidate {
  lot_id: string;
  buffer: string;
  ph_25: number;
  good: boolean;
}

export interface BufferChoice {
  points: string[];
  check: string | null;
  sentence: string;
}

/**
 * Proposes which buffers to use for an expected range of pH: the closest pair that brackets it and is at least
 * `gap` pH apart (three where the rules ask for three), and another buffer as an independent check.
 * Only good lots are proposed. Source: house rule; common practice.
 * Check value: 7.1–8.6 with 4.01, 7.00 and 10.01 on the shelf gives 7.00 and 10.01, check 4.01.
 */
export function chooseBuffers(
  shelf: readonly BufferCandidate[],
  expected: { low: number; high: number },
  rules: { buffers: 2 | 3; buffer_gap_ph: number },
): BufferChoice {
  const good = onePerBuffer(shelf.filter((lot) => lot.good)).sort((a, b) => a.ph_25 - b.ph_25);
  const pairs = good.flatMap((low, i) =>
    good
      .slice(i + 1)
      .filter((high) => high.ph_25 - low.ph_25 >= rules.buffer_gap_ph - 1e-9)
      .map((high) => ({ low, high, brackets: low.ph_25 <= expected.low && high.ph_25 >= expected.high })),
  );
  const miss = (pair: (typeof pairs)[number]) =>
    Math.max(0, pair.low.ph_25 - expected.low) + Math.max(0, expected.high - pair.high.ph_25);
  const best = [...pairs].sort(
    (a, b) => miss(a) - miss(b) || a.high.ph_25 - a.low.ph_25 - (b.high.ph_25 - b.low.ph_25),
  )[0];
  if (!best) {
    return {
      points: [],
      check: null,
      sentence: "The shelf holds no two good buffers far enough apart. Open or register another lot first.",
    };
  }
  const chosen = [best.low, best.high];
  if (rules.buffers === 3) {
    const third = good.find((lot) => !chosen.includes(lot));
    if (third) chosen.push(third);
  }
  chosen.sort((a, b) => Math.abs(a.ph_25 - 7) - Math.abs(b.ph_25 - 7));
  const rest = good.filter((lot) => !chosen.includes(lot));
  const middle = (expected.low + expected.high) / 2;
  const check = rest.sort((a, b) => Math.abs(a.ph_25 - middle) - Math.abs(b.ph_25 - middle))[0];
  const expectedText = `${expected.low.toFixed(1)} – ${expected.high.toFixed(1)} expected`;
  return {
    points: chosen.map((lot) => lot.lot_id),
    check: check?.lot_id ?? null,
    sentence: best.brackets
      ? `Buffers that bracket your water (${expectedText})${check ? ", then a check." : ". No other buffer is left for a check."}`
      : `No pair on the shelf brackets your water (${expectedText}). This is the closest pair; readings outside it will carry a note.`,
  };
}

/** The bottle opened longest is used up first: the shelf comes in that order, so the first of each kind is kept. */
function onePerBuffer(shelf: readonly BufferCandidate[]): BufferCandidate[] {
  return [...new Map([...shelf].reverse().map((lot) => [lot.buffer, lot])).values()];
}
