/**
 * Which of many values are drawn so that none is missed by the eye: of each of some hundred stretches the lowest and the highest, and all
 * that must be seen; all of them while they are few. Positions from 0, rising. Source: common practice (min–max decimation). Check value:
 * of 0, 9, 1, 2, 8, 3 in two stretches 0, 9 and 2, 8 are drawn.
 */
export function thinned(
  values: readonly number[],
  stretches: number,
  kept: (index: number) => boolean = () => false,
): number[] {
  const all = values.map((_, i) => i);
  if (values.length <= 2 * stretches) return all;
  const size = values.length / stretches;
  const drawn = new Set<number>();
  for (let s = 0; s < stretches; s++) {
    const [from, to] = [Math.round(s * size), Math.round((s + 1) * size)];
    let [low, high] = [from, from];
    for (let i = from; i < to; i++) {
      if ((values[i] as number) < (values[low] as number)) low = i;
      if ((values[i] as number) > (values[high] as number)) high = i;
      if (kept(i)) drawn.add(i);
    }
    drawn.add(low).add(high);
  }
  return all.filter((i) => drawn.has(i));
}

/** A stretch of a series, by the positions of its first value and the one after its last. */
export interface Stretch {
  from: number;
  to: number;
}

/** No stretch is shorter than this: fewer points make no picture. */
const shortest = 12;

/**
 * A stretch moved or widened within a series of so many values: `closer` halves and `wider` doubles it about its middle, `earlier` and
 * `later` move it by half, `all` is everything. Source: common practice. Check value: closer from 0 to 100 is 25 to 75.
 */
export function stretched(
  { from, to }: Stretch,
  how: "closer" | "wider" | "earlier" | "later" | "all",
  count: number,
): Stretch {
  if (how === "all") return { from: 0, to: count };
  const length = to - from;
  const next =
    how === "closer"
      ? Math.max(Math.min(shortest, count), Math.round(length / 2))
      : how === "wider"
        ? Math.min(count, length * 2)
        : length;
  const shift = how === "earlier" ? -Math.round(length / 2) : how === "later" ? Math.round(length / 2) : 0;
  const start = Math.round(from + (length - next) / 2) + shift;
  const first = Math.max(0, Math.min(count - next, start));
  return { from: first, to: first + next };
}
