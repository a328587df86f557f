import { jumpPlaces } from "../../server/day/jump.server";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext } from "../../server/platform/contexts.server";
import type { Route } from "./+types/jump";

export const loader = ({ context }: Route.LoaderArgs) => jumpPlaces(context.get(dbContext), nowIso());
