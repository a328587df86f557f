import { useLoaderData } from "react-router";
import { dbContext } from "../../server/platform/contexts.server";
import { recordOf, recordReport } from "../../server/review/record.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { ReportPage } from "../../ui/ReportPage";
import type { Route } from "./+types/recordPaper";

export const meta: Route.MetaFunction = () => [{ title: "Record of a result · Brintel" }];

export async function loader({ params, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const record = await recordOf(db, params.readingId);
  if (!record) throw new Response("No such result", { status: 404 });
  return { id: params.readingId, report: recordReport(record, (await rulesInForce(db)).rules) };
}

export default function RecordPaper() {
  const { id, report } = useLoaderData<typeof loader>();
  return (
    <ReportPage
      report={report}
      pdf={`/records/${id}/record.pdf`}
      back={{ to: `/records/${id}`, words: "Back to the record" }}
    />
  );
}
