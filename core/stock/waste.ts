import { type Forecast, forecastOf } from "./forecast";
import type { wasteStreams } from "./wasteStreams";

export type WasteStream = (typeof wasteStreams)[number];

/** Streams that are collected in a container; the others go back or leave nothing. */
export const collected: readonly WasteStream[] = [
  "general",
  "acid-azide",
  "silver-chromate",
  "mercury",
  "plastics",
];

/** What must never meet in a container. Source: common practice; safety sheets and local rules decide. */
export const keepApart: Partial<Record<WasteStream, string>> = {
  "acid-azide": "Never with acid from elsewhere: azide and acid give a poisonous gas.",
  mercury: "Never with anything else: mercury is collected by itself.",
  "silver-chromate": "Never with ammonia or alcohol: silver may become explosive.",
  general: "Never chlorine products with acid or ammonia.",
  plastics: "Broken glass in its own rigid box.",
};

/** What of a method's card says how much it leaves. */
interface Leaves {
  sample: { volume_ml: number };
  materials: readonly { per_run: number; unit: string; for_curve?: boolean | undefined }[];
}

/**
 * What one portion of a method leaves to be collected, mL: the sample and every reagent that is measured in mL. Source: the method's own
 * card. Check value: 10 mL of sample with 2 mL of reagent leave 12 mL.
 */
export const wasteOfPortion = ({ sample, materials }: Leaves): number =>
  sample.volume_ml +
  materials.filter((m) => m.unit === "mL" && !m.for_curve).reduce((sum, m) => sum + m.per_run, 0);

export interface Fill {
  ml: number;
  /** Share of the container, 0–1; more than 1 when it should have been changed. */
  share: number;
  /** When it is full at this rate; null while nobody can say. */
  forecast: Forecast | null;
}

/** From this share on a container is to be changed: liquids need room. Source: common practice. */
export const fullShare = 0.9;

/**
 * How full a container is and when it will be. Units: mL; ISO dates. Errors: none. Source: what was done since it was begun.
 * Check value: 450 mL of 500 within 30 days leave no room: nine tenths are full.
 */
export function fillOf(size_ml: number, ml: number, since: string, today: string): Fill {
  const room = Math.max(0, fullShare * size_ml - ml);
  return { ml, share: ml / size_ml, forecast: forecastOf({ left: room, taken: ml, since }, today) };
}
