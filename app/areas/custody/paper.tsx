import { useLoaderData } from "react-router";
import { dbContext } from "../../server/platform/contexts.server";
import { batchPaper } from "../../server/samples/batches.server";
import { PaperFacts, PaperPage, PaperTable } from "../../ui/PaperPage";
import type { Route } from "./+types/paper";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.paper.title ?? "Batch"} · Brintel` },
];

export async function loader({ params, context }: Route.LoaderArgs) {
  return { paper: await batchPaper(context.get(dbContext), params.workId), workId: params.workId };
}

/** The page that travels in the cooler, in a waterproof bag: on the screen as it will be printed. */
export default function CustodyPaperPage() {
  const { paper, workId } = useLoaderData<typeof loader>();
  return (
    <PaperPage
      kind="chain of custody"
      title={paper.title}
      number={paper.number}
      pdf={`/custody/${workId}/batch.pdf`}
      back={{ to: `/custody/${workId}`, words: "Back to the batch" }}
    >
      <PaperFacts rows={paper.facts} />
      <PaperTable {...paper.samples} />
      <h2>Hands</h2>
      <PaperTable {...paper.hands} />
      {paper.notes.map((line) => (
        <p key={line} className="paper-closing">
          {line}
        </p>
      ))}
    </PaperPage>
  );
}
