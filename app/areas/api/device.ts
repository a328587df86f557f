import { data } from "react-router";
import { z } from "zod";
import { phFaults } from "../../../core/simulation/phMeter";
import { dbContext } from "../../server/contexts.server";
import { setFaults, setSpeed } from "../../server/devices.server";
import type { Route } from "./+types/device";

const changeSchema = z.object({
  faults: z.array(z.enum(phFaults)).optional(),
  speed: z.number().min(1).max(60).optional(),
});

/** Changes the simulated instrument behind a meter: its faults and how fast its clock runs. */
export async function action({ request, params, context }: Route.ActionArgs) {
  const change = changeSchema.safeParse(await request.json().catch(() => null));
  if (!change.success)
    return data({ message: "This change of the simulated meter is not known." }, { status: 422 });
  const db = context.get(dbContext);
  const now = new Date().toISOString();
  if (change.data.faults) await setFaults(db, params.meterId, change.data.faults, now);
  if (change.data.speed) await setSpeed(db, params.meterId, change.data.speed, now);
  return data({ message: "" });
}
