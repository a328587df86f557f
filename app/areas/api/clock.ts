import { z } from "zod";
import { nowMs, windClock } from "../../server/platform/clock.server";
import type { Route } from "./+types/clock";

/** The server's clock, for devices whose own may be off. */
export const loader = () => Response.json({ now: nowMs() });

const windSchema = z.object({ ahead_ms: z.number().min(0).max(864_000_000) });

/** Winds the clock on, under tests only. */
export async function action({ request }: Route.ActionArgs) {
  const asked = windSchema.safeParse(await request.json().catch(() => null));
  const wound = asked.success && windClock(asked.data.ahead_ms);
  return Response.json({ now: nowMs() }, { status: wound ? 200 : 404 });
}
