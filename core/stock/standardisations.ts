import type { StandardisationGuide } from "./standardisationEvents";
import type { SupplyLot } from "./supply";

/** How the titrants of the shipped methods are standardised. Sources: as each says. */
export const standardisations: readonly StandardisationGuide[] = [
  {
    titrant: "Sodium thiosulfate 0.0250 N",
    standard: "Iodate standard 0.0250 N",
    unit: "N",
    portion_ml: 20,
    blank: false,
    steps: [
      "About 100 mL of pure water with 2 g of potassium iodide, and 1 mL of dilute sulfuric acid (1 + 9).",
      "Add the portion of the iodate standard and make up to about 200 mL. Titrate without waiting.",
      "Towards the end, when it is pale straw, add the starch; it is over when the blue is gone the first time.",
    ],
    cautions: ["Acid into water, goggles and gloves. Iodine vapour: work where air moves."],
    source: "Standard Methods 4500-O (from memory), with iodate: 6 equivalents a mole",
  },
  {
    titrant: "Silver nitrate 0.0141 N",
    standard: "Sodium chloride standard 0.0141 N",
    unit: "N",
    portion_ml: 20,
    blank: true,
    steps: [
      "Make the portion up to about 100 mL with pure water; the pH stands between 7 and 10.",
      "Add 1 mL of chromate indicator. Titrate to the first pinkish yellow that stays.",
    ],
    cautions: ["Silver nitrate stains; chromate is poisonous: gloves, and its waste apart."],
    source: "Standard Methods 4500-Cl (from memory)",
  },
  {
    titrant: "EDTA 0.01 M",
    standard: "Calcium standard, 1 mg/mL as CaCO3",
    unit: "mg/mL",
    portion_ml: 10,
    blank: true,
    steps: [
      "Make the portion up to about 50 mL with pure water.",
      "Add 1 to 2 mL of the buffer of pH 10 and the indicator, and titrate within five minutes.",
      "Slowly towards the end: it is over when the last red has gone and it is blue.",
    ],
    cautions: ["The buffer smells of ammonia: work where air moves."],
    source: "Standard Methods 2340 (from memory)",
  },
  {
    titrant: "Sulfuric acid 0.02 N",
    standard: "Sodium carbonate standard 0.05 N",
    unit: "N",
    portion_ml: 10,
    blank: false,
    steps: [
      "Make the portion up to about 60 mL with pure water.",
      "Titrate by the pH meter to about pH 5, boil for some minutes under a watch glass, cool, and go on to the steepest place.",
    ],
    cautions: ["Acid: goggles and gloves. Boiling water: a vessel that stands firm."],
    source: "Standard Methods 2320 (from memory)",
  },
];

/** A titrant of one's own, for which nothing is known: against whatever has a strength in the same unit. */
const ownWay: Omit<StandardisationGuide, "titrant" | "unit"> = {
  standard: "Standard of known strength",
  portion_ml: 20,
  blank: false,
  steps: ["Treat the portion as the method of the titrant says, and titrate to its end."],
  cautions: ["The safety sheets of both solutions decide."],
  source: "the house's own way",
};

/** How the titrant that a lot is may be standardised, and whether any standard of the same unit will do. */
export function guideFor(lot: Pick<SupplyLot, "serves" | "name" | "strength">): {
  guide: StandardisationGuide;
  any: boolean;
} {
  const known = standardisations.find((g) =>
    lot.serves.some((name) => name.toLowerCase() === g.titrant.toLowerCase()),
  );
  return known
    ? { guide: known, any: false }
    : {
        guide: {
          ...ownWay,
          titrant: lot.serves[0] ?? lot.name,
          unit: lot.strength?.unit === "mg/mL" ? "mg/mL" : "N",
        },
        any: true,
      };
}
