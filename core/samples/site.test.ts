import { check } from "@placemarkio/check-geojson";
import { describe, expect, it } from "vitest";
import { noPlace, placeSchema, readSitesGeoJson, type SiteInWater, sitesGeoJson, waterLines } from "./site";

const site = (name: string, position: number, place: Partial<SiteInWater["place"]> = {}): SiteInWater => ({
  id: `id-${name}`,
  name,
  water: "river",
  position,
  place: { ...noPlace, ...place },
});

describe("the water as lines", () => {
  it("goes by distance where all of an arm have one, each arm apart, the main one first", () => {
    const lines = waterLines([
      site("Weir", 1, { km: 3 }),
      site("Spring", 2, { km: 0 }),
      site("Mill arm", 3, { branch: "Mill" }),
      site("Mill tail", 4, { branch: "Mill", km: 1 }),
      site("Bridge", 5, { km: 1.5 }),
    ]);
    expect(lines.map((l) => [l.branch, l.sites.map((s) => s.name)])).toEqual([
      ["", ["Spring", "Bridge", "Weir"]],
      ["Mill", ["Mill arm", "Mill tail"]],
    ]);
  });
});

describe("sites as GeoJSON", () => {
  const sites = [
    site("Bathing pond", 1, { latitude: 52.104, longitude: -1.303, km: 0.4, directions: "Past the gate." }),
    site("Borehole", 2, { well_depth_m: 24, casing_mm: 150 }),
  ];
  const text = JSON.stringify(sitesGeoJson(sites));

  it("is GeoJSON by an independent reader (RFC 7946)", () => {
    expect(() => check(text)).not.toThrow();
  });

  it("comes back the same", () => {
    const read = readSitesGeoJson(text);
    expect(read).toEqual({
      sites: sites.map(({ id, name, water, place }) => ({ id, name, water, place })),
    });
  });

  const feature = (properties: object, coordinates: unknown = [1, 2]) =>
    JSON.stringify({
      type: "FeatureCollection",
      features: [{ type: "Feature", geometry: { type: "Point", coordinates }, properties }],
    });
  it.each([
    ["{", "not JSON"],
    ['{"type":"Feature"}', "FeatureCollection"],
    [feature({}), "Feature 1: it needs a name"],
    [feature({ name: "A" }, [1, 95]), "latitude lies between"],
    [feature({ name: "A" }, ["x", "y"]), "not a point"],
    [feature({ name: "A", km: -1 }), "Not below zero."],
    [feature({ name: "A" }, [200, 1]), "longitude lies between"],
  ])("%s is refused: %s", (broken, words) => {
    const read = readSitesGeoJson(broken);
    expect("message" in read && read.message).toContain(words);
  });

  it("refuses a name that stands there twice", () => {
    const both = JSON.stringify(sitesGeoJson([site("A", 1), site("a", 2)]));
    expect(readSitesGeoJson(both)).toEqual({ message: "Feature 2: its name stands there twice." });
  });
});

describe("a place", () => {
  it("needs both coordinates or none", () => {
    const half = placeSchema.safeParse({ latitude: 52 });
    expect(half.error?.issues[0]?.message).toBe("Give both coordinates, or neither.");
    expect(placeSchema.parse({})).toEqual(noPlace);
  });
});
