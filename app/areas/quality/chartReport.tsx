import { useLoaderData } from "react-router";
import { dbContext } from "../../server/platform/contexts.server";
import { chartReport } from "../../server/quality/chartReport.server";
import { ReportPage } from "../../ui/ReportPage";
import type { Route } from "./+types/chartReport";
import { chartKeyIn } from "./chartKey";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `Chart of ${loaderData?.report.title ?? "a control"} · Brintel` },
];

export async function loader({ url, context }: Route.LoaderArgs) {
  const report = await chartReport(context.get(dbContext), chartKeyIn(url));
  if (!report) throw new Response("No such chart", { status: 404 });
  return { report, search: url.search };
}

/** The chart of a control on paper. */
export default function ChartReportPage() {
  const { report, search } = useLoaderData<typeof loader>();
  return (
    <ReportPage
      report={report}
      pdf={`/quality/chart/report.pdf${search}`}
      back={{ to: `/quality/chart${search}`, words: "Back to the chart" }}
    />
  );
}
