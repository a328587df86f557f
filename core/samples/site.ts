import { z } from "zod";

const text = (max: number) =>
  z
    .string()
    .trim()
    .max(max, { error: `Keep it under ${max + 1} characters.` });
const degrees = (most: number, what: string) =>
  z
    .number({ error: `Give the ${what} in degrees, like 52.10412.` })
    .min(-most, { error: `A ${what} lies between −${most} and ${most} degrees.` })
    .max(most, { error: `A ${what} lies between −${most} and ${most} degrees.` })
    .nullable();
const metres = (most: number) =>
  z
    .number({ error: "Give it in m, like 24." })
    .min(0, { error: "Not below zero." })
    .max(most, { error: `At most ${most} m.` })
    .nullable();

/** Where a site lies, how it is reached, and what its well is like; everything may be unknown. */
export const placeSchema = z
  .object({
    latitude: degrees(90, "latitude").default(null),
    longitude: degrees(180, "longitude").default(null),
    /** Along its water, from the top, km. */
    km: z
      .number({ error: "Give the distance in km, like 1.2." })
      .min(0, { error: "Not below zero." })
      .max(10_000, { error: "No water is that long." })
      .nullable()
      .default(null),
    /** Which arm of the water it lies on; empty for the main one. */
    branch: text(40).default(""),
    directions: text(400).default(""),
    well_depth_m: metres(2000).default(null),
    casing_mm: z
      .number({ error: "Give the diameter in mm, like 150." })
      .min(5, { error: "At least 5 mm." })
      .max(5000, { error: "At most 5000 mm." })
      .nullable()
      .default(null),
    /** From where depths are measured, and how high that lies above the ground. */
    datum: text(60).default(""),
    datum_above_ground_m: metres(10).default(null),
    pump: text(80).default(""),
    sample_point: text(120).default(""),
  })
  .superRefine((p, issue) => {
    if ((p.latitude === null) !== (p.longitude === null))
      issue.addIssue({
        code: "custom",
        path: [p.latitude === null ? "latitude" : "longitude"],
        message: "Give both coordinates, or neither.",
      });
  });
export type Place = z.output<typeof placeSchema>;

/** Nothing known of a place. */
export const noPlace: Place = {
  latitude: null,
  longitude: null,
  km: null,
  branch: "",
  directions: "",
  well_depth_m: null,
  casing_mm: null,
  datum: "",
  datum_above_ground_m: null,
  pump: "",
  sample_point: "",
};

/** A site as far as its place in the water goes. */
export interface SiteInWater {
  id: string;
  name: string;
  water: string;
  position: number;
  place: Place;
}

/** One arm of the water with its sites from the top down. */
export interface WaterLine<S extends SiteInWater> {
  branch: string;
  sites: S[];
}

/**
 * The water as lines: its main arm first, each branch apart, the sites of each from the top down by distance; where a distance is
 * missing, by the order that was given. Check value: sites at 2 km and at 1 km come as 1 km, 2 km.
 */
export function waterLines<S extends SiteInWater>(sites: readonly S[]): WaterLine<S>[] {
  const branches = [
    ...new Set([...sites].sort((a, b) => a.position - b.position).map((s) => s.place.branch)),
  ];
  return branches
    .sort((a, b) => Number(a !== "") - Number(b !== ""))
    .map((branch) => {
      const own = sites.filter((s) => s.place.branch === branch);
      const measured = own.every((s) => s.place.km !== null);
      return {
        branch,
        sites: [...own].sort((a, b) =>
          measured
            ? (a.place.km ?? 0) - (b.place.km ?? 0) || a.position - b.position
            : a.position - b.position,
        ),
      };
    });
}

const featureSchema = z.object({
  type: z.literal("Feature"),
  id: z.union([z.string(), z.number()]).optional(),
  geometry: z.object({ type: z.literal("Point"), coordinates: z.array(z.number()).min(2).max(3) }).nullable(),
  properties: z.record(z.string(), z.unknown()).nullable(),
});
const collectionSchema = z.object({
  type: z.literal("FeatureCollection"),
  features: z.array(z.unknown()).max(2000),
});

/** Sites as GeoJSON (RFC 7946): a point each, or no geometry where nobody said where it lies. */
export const sitesGeoJson = (sites: readonly SiteInWater[]) => ({
  type: "FeatureCollection" as const,
  features: sites.map(({ id, name, water, position, place: { latitude, longitude, ...place } }) => ({
    type: "Feature" as const,
    id,
    geometry:
      latitude === null || longitude === null
        ? null
        : { type: "Point" as const, coordinates: [longitude, latitude] },
    properties: { name, water, position, ...place },
  })),
});

/** A site as a file has it. */
export interface ImportedSite {
  id: string | null;
  name: string;
  water: string | null;
  place: Place;
}

/**
 * Reads sites from GeoJSON: points with a name. Errors: a sentence with the number of the feature; then nothing is taken. Check
 * value: what {@link sitesGeoJson} wrote is read back the same.
 */
export function readSitesGeoJson(text: string): { sites: ImportedSite[] } | { message: string } {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    return { message: "This is not JSON. Look at the file again." };
  }
  const collection = collectionSchema.safeParse(json);
  if (!collection.success)
    return { message: "A GeoJSON file of sites is a FeatureCollection of at most 2000 features." };
  const sites: ImportedSite[] = [];
  for (const [i, raw] of collection.data.features.entries()) {
    const refuse = (why: string) => ({ message: `Feature ${i + 1}: ${why}` });
    const feature = featureSchema.safeParse(raw);
    if (!feature.success) return refuse("it is not a point with properties.");
    const { geometry, properties, id } = feature.data;
    const name = properties?.name;
    if (typeof name !== "string" || name.trim() === "" || name.length > 60)
      return refuse("it needs a name of at most 60 characters.");
    const [longitude = null, latitude = null] = geometry?.coordinates ?? [];
    const place = placeSchema.safeParse({ ...properties, latitude, longitude });
    if (!place.success) return refuse(place.error.issues[0]?.message ?? "its place cannot be read.");
    const water = properties?.water;
    sites.push({
      id: id === undefined ? null : String(id),
      name: name.trim(),
      water: typeof water === "string" && water.trim() && water.length <= 60 ? water.trim() : null,
      place: place.data,
    });
  }
  const names = sites.map((s) => s.name.toLowerCase());
  const twice = names.findIndex((n, i) => names.indexOf(n) !== i);
  return twice >= 0 ? { message: `Feature ${twice + 1}: its name stands there twice.` } : { sites };
}
