import type { Finding } from "../judgement/finding";
import { counted, formatNumber } from "../quantity/format";
import type { BottleType } from "./bottleTypes";
import { wellStability } from "./stability";
import { isOwedDose, purgeAt, type VisitBottle, type VisitState } from "./visit";

const qualify = (
  rule: string,
  measured: string,
  limit: string,
  sentence: string,
  action: string,
): Finding => ({ rule, severity: "qualify", measured, limit, sentence, action });

/** The rules of a bottle that was not dosed, and of one that stayed warm. */
const [notPreserved, notCooled] = ["not-preserved", "not-cooled"];

/** What is said of water that waits: nothing against what is measured of it at once. */
export const ofWaiting: readonly string[] = [notPreserved, notCooled];

/**
 * What is to be said of how a sample was taken, for everything that is measured of it. `state` is the visit as it ended, or as
 * it stands. Source: the bottle's type, after 40 CFR 136.3, table II (from memory). Check value: a
 * sterile bottle that was rinsed is qualified.
 */
export function samplingFindings(state: VisitState, index: number): Finding[] {
  const bottle = state.bottles[index];
  const type = state.plan.bottles[index];
  if (!bottle?.filled_at || !type) return [];
  return [
    ...rinseFindings(type, bottle),
    ...filterFindings(type, bottle),
    ...(isOwedDose(type, bottle)
      ? [
          qualify(
            notPreserved,
            "nothing added",
            type.preservative ?? "",
            `${type.name}: nobody ticked that what keeps this water went in.`,
            "Take a new sample and dose it at once. What waited without it has changed.",
          ),
        ]
      : []),
    ...coldFindings(type, bottle),
    ...wellFindings(state, Date.parse(bottle.filled_at)),
    ...(state.plan.well === null && bottle.depth_cm === null
      ? [
          qualify(
            "depth-not-recorded",
            "no depth",
            `about ${formatNumber(state.plan.depth_cm, 0)} cm below the surface`,
            "Nobody said how deep this was taken.",
            "Write the depth into the note, if it is known.",
          ),
        ]
      : []),
  ];
}

function rinseFindings(type: BottleType, bottle: VisitBottle): Finding[] {
  if (type.rinses === 0 && bottle.rinses > 0) {
    return [
      qualify(
        "rinsed-that-must-not",
        counted(bottle.rinses, "rinse"),
        "none",
        `${type.name}: this bottle must not be rinsed.`,
        "Take another bottle next time; say so to the laboratory.",
      ),
    ];
  }
  return bottle.rinses < type.rinses
    ? [
        qualify(
          "rinses-short",
          counted(bottle.rinses, "rinse"),
          counted(type.rinses, "rinse"),
          `${type.name}: rinsed less often than its type asks.`,
          "Rinse with the water it will hold, lid too.",
        ),
      ]
    : [];
}

/** Water whose warmth nobody asks for on receipt (acid keeps it) goes onto ice only because the others do. */
function coldFindings({ cold, arrives_c, name }: BottleType, { stored_at }: VisitBottle): Finding[] {
  return cold && arrives_c !== null && stored_at === null
    ? [
        qualify(
          notCooled,
          "not on ice",
          `on ice, at most ${formatNumber(arrives_c, 0)} °C`,
          `${name}: nobody ticked that it went onto ice and into the dark.`,
          "Put it onto ice now. What stood warm and in the light may have changed: take a new sample where that counts.",
        ),
      ]
    : [];
}

function filterFindings(type: BottleType, bottle: VisitBottle): Finding[] {
  if (!type.filter || bottle.filtered === "filtered") return [];
  return [
    bottle.filtered === "too-turbid"
      ? qualify(
          "too-turbid-to-filter",
          "not filtered",
          `${type.filter.pore_um} µm`,
          "The water was too turbid to filter: particles count as dissolved.",
          `${type.preservative ? "Add nothing to it. " : ""}Have it filtered or centrifuged in the laboratory the same day.`,
        )
      : qualify(
          "not-filtered",
          "not filtered",
          `${type.filter.pore_um} µm`,
          "This bottle is for filtered water and was not filtered.",
          "Filter it now, or have the laboratory do it.",
        ),
  ];
}

/** Whether a well had given its water when a bottle was filled, at a moment in ms. */
function wellFindings(state: VisitState, at: number): Finding[] {
  const { well } = state.plan;
  if (!well) return [];
  const purge = purgeAt(state, at);
  const before = state.rounds.filter((r) => Date.parse(r.at) <= at).map((r) => r.values);
  const steady = wellStability(before, well.rounds);
  return [
    ...(!purge?.done
      ? [
          qualify(
            "purge-short",
            `${formatNumber(purge?.pumped_l ?? 0, 0)} L`,
            purge ? `${formatNumber(purge.wanted_l, 0)} L` : counted(well.volumes, "volume"),
            purge
              ? "The well was sampled before it was purged."
              : "The well was not dipped: nobody knows how much had to be pumped.",
            "Pump the rest and sample again, if you are still there.",
          ),
        ]
      : []),
    ...(steady.stable
      ? []
      : [
          qualify(
            "not-stable",
            counted(before.length, "round"),
            `${counted(well.rounds, "round")} that agree`,
            steady.unsteady[0]?.words ?? "The well was sampled before its water was known to be steady.",
            "Go on pumping and measuring until the rounds agree, then sample again.",
          ),
        ]),
  ];
}

/** What is to be said of a visit itself. Check value: an air thermometer read after two minutes is too early. */
export function visitFindings(state: VisitState): Finding[] {
  const { hung_at, read_at } = state.air;
  const { air_s } = state.plan;
  const hung_s = hung_at && read_at ? (Date.parse(read_at) - Date.parse(hung_at)) / 1000 : null;
  return hung_s !== null && hung_s < air_s
    ? [
        qualify(
          "air-too-early",
          `${formatNumber(hung_s / 60, 1)} min`,
          `${air_s / 60} min`,
          "The air thermometer was read before it had settled.",
          "Leave it hanging and read it again.",
        ),
      ]
    : [];
}

/** What is to be said of a meter that read at a visit and was neither checked nor calibrated since. Check value: it is qualified. */
export const closingFinding = (code: string): Finding =>
  qualify(
    "no-closing-check",
    "no check since",
    "a check after the last reading",
    `${code} has read here and was not checked since.`,
    `Check ${code} before it is put away: what it read rests on that.`,
  );
