import { configureGlobal } from "fast-check";

/**
 * Properties are tried with the same inputs in every run, so that a change is what makes a test fail and not the day.
 * To look further: `BRINTEL_SEED=7 npx vitest run` with as many seeds as there is patience for.
 */
configureGlobal({ seed: Number(process.env.BRINTEL_SEED ?? 1) });
