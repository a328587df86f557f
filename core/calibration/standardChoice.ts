import type { Channel } from "../bench/meter";
import { restsUntil } from "../bench/service";
import { formatNumber } from "../quantity/format";
import type { Measurand } from "../quantity/measurand";
import type { HouseRules } from "../rules/houseRules";
import type { StandardKind } from "../stock/standard";
import { elapsedDays, localDate } from "../time/local";
import { showTime } from "../time/words";
import { chooseBuffers } from "./bufferChoice";
import type { ExpectedRange, StationRole } from "./planned";
import type { MeterHistory } from "./session";

/** A bottle on the shelf that could be used today. */
export interface ShelfLot {
  lot_id: string;
  kind: StandardKind;
  material: string;
  nominal: number;
  good: boolean;
}

/** One step of a proposed calibration; a step that needs a bottle names the kinds that fit. */
export interface ProposedStation {
  role: StationRole;
  lot_id: string | null;
  kinds: StandardKind[];
  optional: boolean;
}

export interface ProposedCalibration {
  measurand: Measurand;
  stations: ProposedStation[];
  /** Why these, in the technician's words. */
  sentence: string;
  /** Nothing on the shelf fits: the calibration cannot be done as it stands. */
  possible: boolean;
}

/**
 * In which order a meter with several sensors is calibrated. What is weak comes before what would soil it: thermometer,
 * conductivity from pure water upwards before any buffer touches the cell, then pH and redox, and oxygen last, because
 * sulfite left on the probe eats oxygen. Source: common practice.
 */
export const calibrationOrder: readonly Measurand[] = [
  "temperature",
  "conductivity",
  "ph",
  "redox",
  "oxygen",
  "absorbance",
  "volume",
];

export interface Proposal {
  channel: Channel;
  expected: ExpectedRange | null;
  history: MeterHistory;
  now: string;
  rules: HouseRules;
}

const step = (
  role: StationRole,
  kinds: StandardKind[],
  lot_id: string | null = null,
  optional = false,
): ProposedStation => ({
  role,
  lot_id,
  kinds,
  optional,
});

/**
 * Proposes the steps and bottles of one measurand's calibration: only good lots, bracketing the expected water.
 * Source: house rules; common practice. Check value: pH of 7.1–8.6 with 4, 7 and 10 on the shelf proposes 7 and 10, check 4.
 */
export function proposeCalibration(shelf: readonly ShelfLot[], proposal: Proposal): ProposedCalibration {
  const { channel, rules } = proposal;
  const good = shelf.filter((lot) => lot.good);
  switch (channel.measurand) {
    case "ph":
      return proposePh(shelf, proposal);
    case "conductivity":
      return proposeConductivity(good, proposal);
    case "oxygen":
      return proposeOxygen(good, proposal);
    case "redox": {
      const lots = good.filter((lot) => lot.kind === "redox-standard");
      return {
        measurand: "redox",
        stations: (lots.length ? lots.slice(0, 2) : [null]).map((lot) =>
          step("check", ["redox-standard"], lot?.lot_id ?? null),
        ),
        sentence: lots.length
          ? "Redox is checked against standards, never adjusted."
          : "The shelf holds no redox standard. Make or register one first.",
        possible: lots.length > 0,
      };
    }
    case "temperature":
      return {
        measurand: "temperature",
        stations: [step("check", []), step("check", [])],
        sentence:
          "Beside a reference thermometer in stirred water: once cold, with melting ice if you have it, once warm.",
        possible: true,
      };
    case "absorbance": {
      const checks = good
        .filter((lot) => lot.kind === "absorbance-standard")
        .sort((a, b) => a.nominal - b.nominal);
      const curve = good
        .filter((lot) => lot.kind === "concentration-standard")
        .sort((a, b) => a.nominal - b.nominal);
      return {
        measurand: "absorbance",
        stations: [
          step("blank", [], null, true),
          ...checks.map((lot) => step("check", ["absorbance-standard"], lot.lot_id)),
          ...(curve.length >= 3
            ? curve.map((lot) => step("point", ["concentration-standard"], lot.lot_id))
            : []),
        ],
        sentence: checks.length
          ? "The blank with the sample itself, then the check standards from light to dark."
          : "The shelf holds no absorbance standard. Register one first.",
        possible: checks.length > 0 || curve.length >= 3,
      };
    }
    case "volume":
      return {
        measurand: "volume",
        stations: Array.from({ length: rules.volume.weighings }, () => step("point", [])),
        sentence: `Weigh ${rules.volume.weighings} deliveries of pure water and note its temperature.`,
        possible: true,
      };
  }
}

const anyWater: ExpectedRange = { low: 6.5, high: 8.5 };

function proposePh(
  shelf: readonly ShelfLot[],
  { expected, rules, history, now }: Proposal,
): ProposedCalibration {
  const buffers = shelf
    .filter((lot) => lot.kind === "ph-buffer")
    .map((lot) => ({ lot_id: lot.lot_id, buffer: lot.material, ph_25: lot.nominal, good: lot.good }));
  const wanted = rules.ph.buffers === 1 ? 2 : rules.ph.buffers;
  const choice = chooseBuffers(buffers, expected ?? anyWater, {
    buffers: wanted,
    buffer_gap_ph: rules.ph.buffer_gap_ph,
  });
  const onePoint = rules.ph.buffers === 1;
  const points = onePoint ? nearestTo7(buffers.filter((b) => b.good)) : choice.points;
  const slots = points.length ? points : onePoint ? [null] : [null, null];
  return {
    measurand: "ph",
    stations: [
      ...slots.map((id) => step("point", ["ph-buffer"], id)),
      step("check", ["ph-buffer"], choice.check, true),
    ],
    sentence: onePoint
      ? `One buffer near 7, for water within ${rules.ph.one_point_within_ph} pH of it; further away a reading gets a note. ${slopeWords(history.ph_slope, now, rules)}`
      : choice.sentence,
    possible: points.length > 0,
  };
}

/** With which slope a line through one buffer will be drawn. */
const slopeWords = (
  slope: { percent: number; at: string } | null,
  now: string,
  { ph }: HouseRules,
): string =>
  slope && elapsedDays(slope.at, now) <= ph.one_point_slope_days
    ? `The slope is the last one measured, ${formatNumber(slope.percent, 1)} %.`
    : `No slope was measured in ${ph.one_point_slope_days} days: theory's is taken. Two buffers would measure it.`;

const nearestTo7 = (buffers: readonly { lot_id: string; ph_25: number }[]): string[] =>
  [...buffers]
    .sort((a, b) => Math.abs(a.ph_25 - 7) - Math.abs(b.ph_25 - 7))
    .slice(0, 1)
    .map((b) => b.lot_id);

function proposeConductivity(good: readonly ShelfLot[], { expected, rules }: Proposal): ProposedCalibration {
  const lots = good
    .filter((lot) => lot.kind === "conductivity-standard")
    .sort((a, b) => a.nominal - b.nominal);
  const blank = step("blank", [], null, true);
  if (lots.length === 0) {
    return {
      measurand: "conductivity",
      stations: [blank, step("point", ["conductivity-standard"])],
      sentence: "The shelf holds no conductivity standard. Open or register one first.",
      possible: false,
    };
  }
  const range = expected ?? { low: lots[0]?.nominal ?? 1, high: lots[0]?.nominal ?? 1 };
  const middle = Math.sqrt(range.low * range.high);
  const distance = (lot: ShelfLot) => Math.abs(Math.log(lot.nominal / middle));
  const nearest = [...lots].sort((a, b) => distance(a) - distance(b))[0] as ShelfLot;
  const wide = range.high > 10 * range.low;
  const water = `${formatNumber(range.low, 0)} – ${formatNumber(range.high, 0)} µS/cm expected`;
  if (rules.conductivity.standards === "two-bracket" || wide) {
    const below = [...lots].reverse().find((lot) => lot.nominal <= range.low) ?? lots[0];
    const above = lots.find((lot) => lot.nominal >= range.high) ?? lots.at(-1);
    const pair = [...new Set([below, above])].filter((lot): lot is ShelfLot => lot !== undefined);
    return {
      measurand: "conductivity",
      stations: [blank, ...pair.map((lot) => step("point", ["conductivity-standard"], lot.lot_id))],
      sentence:
        pair.length > 1
          ? `Rinse-water blank, then two standards that bracket your water (${water}), the weak one first.`
          : `Only one standard is on the shelf; your water (${water}) asks for two.`,
      possible: true,
    };
  }
  const near =
    middle / nearest.nominal <= rules.conductivity.near_factor &&
    nearest.nominal / middle <= rules.conductivity.near_factor;
  return {
    measurand: "conductivity",
    stations: [blank, step("point", ["conductivity-standard"], nearest.lot_id)],
    sentence: near
      ? `Rinse-water blank, then one standard near your water (${water}).`
      : `Rinse-water blank, then the nearest standard; none is within a factor ${rules.conductivity.near_factor} of your water (${water}).`,
    possible: true,
  };
}

function proposeOxygen(
  good: readonly ShelfLot[],
  { rules, history, now, channel }: Proposal,
): ProposedCalibration {
  const zero = good.find((lot) => lot.kind === "zero-oxygen");
  const stored = history.oxygen_zero;
  const age = stored ? elapsedDays(stored.at, now) : Number.POSITIVE_INFINITY;
  const filled = history.oxygen_filled_at;
  // A new sensor has no zero of its own yet.
  const newMembrane = stored ? channel.sensor_since > localDate(stored.at, rules.zone) : filled !== null;
  const rests = restsUntil(filled, now);
  const due = rules.oxygen.points === "zero-and-air" || age > rules.oxygen.zero_every_days || newMembrane;
  const span =
    rules.oxygen.points === "air-saturated-water"
      ? "water stirred with air for ten minutes"
      : "damp air, the cup not drowned";
  const why = newMembrane
    ? "The membrane is new: zero first, then "
    : due
      ? stored === null
        ? "The zero was never measured: zero first, then "
        : "The zero is due: zero first, then "
      : `Zero measured ${formatNumber(age, 0)} days ago. The span in `;
  return {
    measurand: "oxygen",
    stations: [...(due ? [step("zero", ["zero-oxygen"], zero?.lot_id ?? null, true)] : []), step("span", [])],
    sentence: `${why}${due ? `the span in ${span}` : span}. Let it warm up ${rules.oxygen.warm_up_min} minutes before.${rests ? ` What was renewed rests until ${showTime(rests, rules.zone)}: not before.` : ""}`,
    possible: true,
  };
}

/** What a check of one measurand measures: one standard near the water, or saturated air; the first that fits, good lots only. */
export function proposeCheck(
  shelf: readonly ShelfLot[],
  { channel, expected }: Proposal,
): ProposedCalibration | null {
  const good = shelf.filter((lot) => lot.good);
  const nearest = (kind: StandardKind) => {
    const lots = good.filter((lot) => lot.kind === kind);
    const middle = expected ? (expected.low + expected.high) / 2 : (lots[0]?.nominal ?? 7);
    return [...lots].sort((a, b) => Math.abs(a.nominal - middle) - Math.abs(b.nominal - middle))[0];
  };
  const withLot = (kind: StandardKind, sentence: string): ProposedCalibration => {
    const lot = nearest(kind);
    return {
      measurand: channel.measurand,
      stations: [step("check", [kind], lot?.lot_id ?? null)],
      sentence,
      possible: lot !== undefined,
    };
  };
  switch (channel.measurand) {
    case "ph":
      return withLot("ph-buffer", "A buffer near your water, not adjusted.");
    case "conductivity":
      return withLot("conductivity-standard", "A standard near your water, not adjusted.");
    case "redox":
      return withLot("redox-standard", "A redox standard.");
    case "oxygen":
      return {
        measurand: "oxygen",
        stations: [step("span", [])],
        sentence: "Damp air, not adjusted.",
        possible: true,
      };
    case "absorbance":
      return withLot("absorbance-standard", "A check standard.");
    default:
      return null;
  }
}
