/** Makes every `Date` of a process or a page so much later (negative: earlier). It runs in either: nothing outside of it is used. */
export function shiftDate(ahead_ms) {
  const Real = globalThis.Date;
  const now = () => Real.now() + ahead_ms;
  globalThis.Date = new Proxy(Real, {
    construct: (target, given, asked) => Reflect.construct(target, given.length ? given : [now()], asked),
    apply: () => new Real(now()).toString(),
    get: (target, name) => (name === "now" ? now : Reflect.get(target, name)),
  });
}
