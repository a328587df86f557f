import { dbContext } from "../../server/platform/contexts.server";
import { photoBytes } from "../../server/sites/sitePhotos.server";
import type { Route } from "./+types/sitePhoto";

/** A picture of a site. It never changes under its address. */
export async function loader({ params, context }: Route.LoaderArgs) {
  const bytes = await photoBytes(context.get(dbContext), params.siteId, params.photoId);
  if (!bytes) throw new Response("No such photo", { status: 404 });
  return new Response(new Uint8Array(bytes), {
    headers: { "Content-Type": "image/jpeg", "Cache-Control": "private, max-age=31536000, immutable" },
  });
}
