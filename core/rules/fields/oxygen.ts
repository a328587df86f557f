import { choice, type HouseRuleGroup, number, range } from "./field";

/** Dissolved oxygen: what can be set, and why it stands where it does. */
export const oxygenRules: HouseRuleGroup = {
  title: "Dissolved oxygen",
  fields: [
    choice(
      "oxygen.points",
      "How oxygen is calibrated",
      {
        air: "Water-saturated air each day; zero when it is due",
        "zero-and-air": "Zero and air, each time",
        "air-saturated-water": "Air-saturated water each day; zero when it is due",
      },
      "Damp air is always the same; aerated water is easily over- or undersaturated.",
    ),
    choice(
      "oxygen.span",
      "What the span is set to",
      { air: "What this air and pressure give", "fixed-10": "A fixed 10 mg/L" },
      "10 mg/L is only true at 15 °C and at sea level.",
    ),
    number(
      "oxygen.zero_every_days",
      "Zero every",
      "days",
      "Zero current grows slowly; a new membrane asks for one at once.",
    ),
    number(
      "oxygen.zero_sound_mg_l",
      "Zero solution, sound at most",
      "mg/L",
      "A fresh sulfite solution holds no oxygen.",
    ),
    number(
      "oxygen.zero_usable_mg_l",
      "Zero solution, with a note at most",
      "mg/L",
      "Half a milligram is what life and death differ by.",
    ),
    range(
      "oxygen.membrane_percent",
      "Signal against the first calibration",
      "%",
      "A membrane that lost a third is due.",
    ),
    number(
      "oxygen.check_mg_l",
      "Check in saturated air, within ±",
      "mg/L",
      "The titration agrees within as much.",
    ),
    number(
      "oxygen.duplicate_mg_l",
      "Duplicates at most apart",
      "mg/L",
      "What careful titrations of one water differ by.",
    ),
  ],
};
