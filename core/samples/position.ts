import type { Position } from "./visitEvents";

/**
 * Coordinates as people write them: degrees north and east, with a comma, a semicolon or a space between. Null where they are none.
 * Check value: "52.10412, -1.30278".
 */
export function readPosition(text: string): Position | null {
  const match = /^([-−]?\d{1,2}(?:\.\d+)?)\s*[,;\s]\s*([-−]?\d{1,3}(?:\.\d+)?)$/.exec(text.trim());
  const [latitude, longitude] = [match?.[1], match?.[2]].map((n) => Number((n ?? "x").replace("−", "-"))) as [
    number,
    number,
  ];
  return Math.abs(latitude) <= 90 && Math.abs(longitude) <= 180
    ? { latitude, longitude, within_m: null }
    : null;
}

/** A position as it is written, to about a metre. Check value: 52.1, −1.3 is "52.10000, -1.30000". */
export const showPosition = ({ latitude, longitude }: Pick<Position, "latitude" | "longitude">): string =>
  `${latitude.toFixed(5)}, ${longitude.toFixed(5)}`;
