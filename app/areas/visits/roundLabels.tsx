import { useLoaderData } from "react-router";
import { showDate } from "../../../core/time/words";
import { dbContext } from "../../server/platform/contexts.server";
import { findRound } from "../../server/visits/rounds.server";
import { initials, LabelPage } from "../../ui/LabelSheet";
import type { Route } from "./+types/roundLabels";

export const meta: Route.MetaFunction = () => [{ title: "Labels of a round · Brintel" }];

export async function loader({ params, context }: Route.LoaderArgs) {
  const round = await findRound(context.get(dbContext), params.roundId);
  if (!round) throw new Response("No such round", { status: 404 });
  return { round };
}

/** The labels of every bottle of a round, before any is filled: the time is written on them by hand. */
export default function RoundLabels() {
  const { round } = useLoaderData<typeof loader>();
  return (
    <LabelPage
      back={{ to: `/visits/rounds/${round.id}`, words: "Back to the round" }}
      labels={round.stops.flatMap((s) =>
        s.plan.labels.flatMap((label, i) => {
          const type = s.plan.bottles[i];
          if (!label || !type) return [];
          return [
            {
              ...label,
              lines: [
                `${s.site}, ${showDate(round.on_date, "long")}, at __:__`,
                [type.name, type.preservative].filter(Boolean).join(" · "),
                initials(round.person),
              ],
            },
          ];
        }),
      )}
    />
  );
}
