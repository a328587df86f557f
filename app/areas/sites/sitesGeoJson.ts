import { sitesGeoJson } from "../../../core/samples/site";
import { dbContext } from "../../server/platform/contexts.server";
import { allSites } from "../../server/sites/sites.server";
import type { Route } from "./+types/sitesGeoJson";

/** Every site as GeoJSON. */
export const loader = async ({ context }: Route.LoaderArgs) =>
  new Response(JSON.stringify(sitesGeoJson(await allSites(context.get(dbContext))), null, 2), {
    headers: {
      "Content-Type": "application/geo+json",
      "Content-Disposition": 'attachment; filename="sites.geojson"',
    },
  });
