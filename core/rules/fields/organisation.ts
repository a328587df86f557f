import { zoneNames } from "../../time/local";
import { choice, type HouseRuleGroup } from "./field";

/** The organisation: what can be set, and why it stands where it does. */
export const organisationRules: HouseRuleGroup = {
  title: "The organisation",
  fields: [
    choice(
      "zone",
      "Time zone",
      Object.fromEntries(zoneNames().map((zone) => [zone, zone.replaceAll("_", " ")])),
      "When a day ends, a bottle runs out and a check is due goes by it.",
    ),
    choice(
      "decimal_mark",
      "Numbers on papers",
      { point: "7.42, with a point", comma: "7,42, with a comma" },
      "Reports, certificates and lists for others. What is kept and given to programs always has a point.",
    ),
  ],
};
