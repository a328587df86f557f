/** What was found and what was added, as amounts in one unit. */
export interface Recovery {
  found: number;
  added: number;
  percent: number;
}

/**
 * How much of a known addition comes back, the change of volume taken into account. Units: results and strength in one unit, volumes in
 * one unit. Errors: none; of nothing added it is not finite. Source: amounts found less amounts there before, over amounts added.
 * Check value: 2.0 in 100 mL, with 1 mL of 300 then 4.9, comes back to 98.3 %.
 */
export function recoveryOf(spike: {
  unspiked: number;
  spiked: number;
  sample_ml: number;
  spike_ml: number;
  strength: number;
}): Recovery {
  const { unspiked, spiked, sample_ml, spike_ml, strength } = spike;
  const found = spiked * (sample_ml + spike_ml) - unspiked * sample_ml;
  const added = spike_ml * strength;
  return { found, added, percent: (found / added) * 100 };
}
