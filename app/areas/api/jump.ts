import { dbContext } from "../../server/contexts.server";
import { jumpPlaces } from "../../server/jump.server";
import type { Route } from "./+types/jump";

export const loader = ({ context }: Route.LoaderArgs) => jumpPlaces(context.get(dbContext));
