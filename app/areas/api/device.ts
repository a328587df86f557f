import { data } from "react-router";
import { z } from "zod";
import { faultSchema } from "../../../core/simulation/fault";
import {
  clearMemory,
  pressStore,
  setFaults,
  setFollows,
  setLogging,
  setSpeed,
} from "../../server/devices/devices.server";
import { putProbe } from "../../server/devices/handOutside.server";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext } from "../../server/platform/contexts.server";
import type { Route } from "./+types/device";

const changeSchema = z.object({
  faults: z.array(faultSchema).optional(),
  speed: z.number().min(1).max(60).optional(),
  follows: z.boolean().optional(),
  /** Where a hand outside puts the probe: `air`, `damp-air`, `rinse`, `lot:<id>` or `site:<id>`. */
  put: z
    .string()
    .regex(/^(air|damp-air|rinse|(lot|site):[0-9A-Za-z]+)$/)
    .optional(),
  /** A key of its own memory. */
  memory: z.enum(["store", "clear"]).optional(),
  /** How often it logs by itself, min; 0 for never. */
  every_min: z.number().int().min(0).max(1440).optional(),
});

/** Changes the simulated instrument behind a meter: its faults, its clock, and what stands around its probe. */
export async function action({ request, params, context }: Route.ActionArgs) {
  const change = changeSchema.safeParse(await request.json().catch(() => null));
  if (!change.success)
    return data({ message: "This change of the simulated meter is not known." }, { status: 422 });
  const db = context.get(dbContext);
  const now = nowIso();
  const { faults, speed, follows, put, memory, every_min } = change.data;
  if (faults) await setFaults(db, params.meterId, faults, now);
  if (speed) await setSpeed(db, params.meterId, speed, now);
  if (follows !== undefined) await setFollows(db, params.meterId, follows, now);
  if (memory === "store") await pressStore(db, params.meterId, now);
  if (memory === "clear") await clearMemory(db, params.meterId, now);
  if (every_min !== undefined) await setLogging(db, params.meterId, every_min || null, now);
  if (put && !(await putProbe(db, params.meterId, put, now))) {
    return data({ message: "This bottle or site is not known here." }, { status: 422 });
  }
  return data({ message: "" });
}
