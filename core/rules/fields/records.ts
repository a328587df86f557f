import { choice, type HouseRuleGroup } from "./field";

/** Review and signing: what can be set, and why it stands where it does. */
export const recordsRules: HouseRuleGroup = {
  title: "Review and signing",
  fields: [
    choice(
      "records.second_person",
      "What somebody measured is signed",
      { other: "By somebody else", anyone: "By any reviewer, who measured it too" },
      "Nobody sees their own slips. A house of one has no choice.",
    ),
  ],
};
