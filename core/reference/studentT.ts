/**
 * Student's t distribution, needed for confidence intervals of slopes, detection limits and outlier tests.
 *
 * Source: regularised incomplete beta function by Lentz's continued fraction,
 * Abramowitz & Stegun 1964, 26.5.8 and 26.7.1.
 */

const lanczos = [
  76.18009172947146, -86.50532032941678, 24.01409824083091, -1.231739572450155, 0.1208650973866179e-2,
  -0.5395239384953e-5,
];

function logGamma(x: number): number {
  const shifted = x + 5.5;
  const series = lanczos.reduce((sum, c, i) => sum + c / (x + 1 + i), 1.000000000190015);
  return -(shifted - (x + 0.5) * Math.log(shifted)) + Math.log((Math.sqrt(2 * Math.PI) * series) / x);
}

const tiny = 1e-300;
const awayFromZero = (x: number) => (Math.abs(x) < tiny ? tiny : x);

function betaContinuedFraction(x: number, a: number, b: number): number {
  let c = 1;
  let d = 1 / awayFromZero(1 - ((a + b) * x) / (a + 1));
  let h = d;
  for (let m = 1; m <= 300; m++) {
    const even = (m * (b - m) * x) / ((a + 2 * m - 1) * (a + 2 * m));
    d = 1 / awayFromZero(1 + even * d);
    c = awayFromZero(1 + even / c);
    h *= d * c;
    const odd = (-(a + m) * (a + b + m) * x) / ((a + 2 * m) * (a + 2 * m + 1));
    d = 1 / awayFromZero(1 + odd * d);
    c = awayFromZero(1 + odd / c);
    const step = d * c;
    h *= step;
    if (Math.abs(step - 1) < 1e-15) break;
  }
  return h;
}

function incompleteBeta(x: number, a: number, b: number): number {
  if (x <= 0) return 0;
  if (x >= 1) return 1;
  const front = Math.exp(logGamma(a + b) - logGamma(a) - logGamma(b) + a * Math.log(x) + b * Math.log(1 - x));
  return x < (a + 1) / (a + b + 2)
    ? (front * betaContinuedFraction(x, a, b)) / a
    : 1 - (front * betaContinuedFraction(1 - x, b, a)) / b;
}

/**
 * Probability that a t-distributed value with `degrees` degrees of freedom is at most `t`.
 * Source: Abramowitz & Stegun 1964, 26.7.1. Check value: `studentTCdf(2.228, 10)` is 0.975.
 */
export function studentTCdf(t: number, degrees: number): number {
  const tail = 0.5 * incompleteBeta(degrees / (degrees + t * t), degrees / 2, 0.5);
  return t > 0 ? 1 - tail : tail;
}

/**
 * The value of t below which the share `probability` of the distribution lies.
 * `probability` is between 0 and 1 (exclusive), `degrees` at least 1; anything else gives NaN.
 * Source: inversion of {@link studentTCdf} by bisection. Check value: `studentTQuantile(0.975, 10)` is 2.2281.
 */
export function studentTQuantile(probability: number, degrees: number): number {
  if (!(probability > 0 && probability < 1 && degrees >= 1)) return Number.NaN;
  if (probability < 0.5) return -studentTQuantile(1 - probability, degrees);
  // A live stream asks for the same quantile several times a second.
  const key = `${probability}:${degrees}`;
  const known = quantiles.get(key);
  if (known !== undefined) return known;
  const found = searchQuantile(probability, degrees);
  if (quantiles.size < 1000) quantiles.set(key, found);
  return found;
}

const quantiles = new Map<string, number>();

function searchQuantile(probability: number, degrees: number): number {
  let low = 0;
  let high = 2;
  while (studentTCdf(high, degrees) < probability) high *= 2;
  for (let i = 0; i < 200 && high - low > 1e-13 * high; i++) {
    const middle = (low + high) / 2;
    if (studentTCdf(middle, degrees) < probability) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}
