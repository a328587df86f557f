import { jumpPlaces } from "../../server/jump.server";
import { dbContext } from "../../server/platform/contexts.server";
import type { Route } from "./+types/jump";

export const loader = ({ context }: Route.LoaderArgs) => jumpPlaces(context.get(dbContext));
