import { useLoaderData } from "react-router";
import { dbContext } from "../../server/platform/contexts.server";
import { readDate } from "../../server/platform/forms.server";
import { shiftReport } from "../../server/review/shiftReport.server";
import { ReportPage } from "../../ui/ReportPage";
import type { Route } from "./+types/report";

export const meta: Route.MetaFunction = ({ params }) => [{ title: `Report of ${params.day} · Brintel` }];

export async function loader({ params, context }: Route.LoaderArgs) {
  const day = readDate(params.day);
  if (!day) throw new Response("No such day", { status: 404 });
  return { day, report: await shiftReport(context.get(dbContext), day) };
}

export default function ShiftReportPage() {
  const { day, report } = useLoaderData<typeof loader>();
  return (
    <ReportPage
      report={report}
      pdf={`/review/${day}/report.pdf`}
      back={{ to: `/review/${day}`, words: "Back to the shift" }}
    />
  );
}
