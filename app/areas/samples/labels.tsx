import { Link, useLoaderData } from "react-router";
import { showTime } from "../../../core/time/words";
import { dbContext } from "../../server/platform/contexts.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { idsIn } from "../../server/samples/batches.server";
import { labelsOf } from "../../server/samples/samplePage.server";
import { initials, LabelPage } from "../../ui/LabelSheet";
import type { Route } from "./+types/labels";

export const meta: Route.MetaFunction = () => [{ title: "Labels · Brintel" }];

export async function loader({ url, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  return {
    labels: await labelsOf(db, idsIn(url.searchParams.getAll("id"))),
    zone: (await rulesInForce(db)).rules.zone,
  };
}

/** The labels of samples as a sheet to be printed; the code in the square is the sample's id. */
export default function Labels() {
  const { labels, zone } = useLoaderData<typeof loader>();
  if (labels.length === 0) {
    return (
      <main className="stack">
        <h1>Labels</h1>
        <p className="sheet">
          No sample was chosen. <Link to="/samples?which=all">Choose some in the register</Link>, then come
          back.
        </p>
      </main>
    );
  }
  return (
    <LabelPage
      back={{ to: "/samples", words: "Back to the samples" }}
      labels={labels.map((l) => ({
        id: l.id,
        code: l.code,
        lines: [
          `${l.site}, ${showTime(l.collected_at, zone, "full")}`,
          [l.bottle, l.preservative].filter(Boolean).join(" · "),
          l.tests.join(", "),
          initials(l.by),
        ].filter(Boolean),
      }))}
    />
  );
}
