/** The pictograms of the international system of labelling, by what they warn of. Source: UN GHS, annex 1. */
export const hazardNames = [
  "flammable",
  "oxidising",
  "corrosive",
  "toxic",
  "harmful",
  "health",
  "environment",
  "gas",
  "explosive",
] as const;
export type Hazard = (typeof hazardNames)[number];

/** What each says, in words. */
export const hazardWords: Record<Hazard, string> = {
  flammable: "Flammable",
  oxidising: "Oxidising",
  corrosive: "Corrosive: skin, eyes, metals",
  toxic: "Acutely toxic",
  harmful: "Irritant or harmful",
  health: "Harms health in the long run",
  environment: "Toxic to life in the water",
  gas: "Gas under pressure",
  explosive: "Explosive",
};
