/** Prints, technique by technique, in how many of a hundred simulated measurements the stated U (k = 2) holds the known truth. */
import { seededRandom } from "../core/quantity/random";
import { coverageOf, coveredTechniques } from "../core/testing/coverage";

const trials = 2000;
for (const [i, covered] of coveredTechniques().entries()) {
  const share = coverageOf(covered, trials, seededRandom(20260 + i));
  console.log(`${(100 * share).toFixed(1).padStart(5)} %  ${covered.technique}`);
}
