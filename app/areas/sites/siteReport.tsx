import { useLoaderData } from "react-router";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext } from "../../server/platform/contexts.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { siteReport } from "../../server/sites/siteReport.server";
import { ReportPage } from "../../ui/ReportPage";
import type { Route } from "./+types/siteReport";
import { periodIn } from "./period";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `Report of ${loaderData?.report.title ?? "a site"} · Brintel` },
];

export async function loader({ params, url, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const period = periodIn(url, nowIso(), (await rulesInForce(db)).rules.zone);
  const report = await siteReport(db, params.siteId, period);
  if (!report) throw new Response("No such site", { status: 404 });
  return { report, id: params.siteId, period };
}

/** What was measured at a site over a period, on paper. */
export default function SiteReportPage() {
  const { report, id, period } = useLoaderData<typeof loader>();
  return (
    <ReportPage
      report={report}
      pdf={`/sites/${id}/report.pdf?${new URLSearchParams(period)}`}
      back={{ to: `/sites/${id}`, words: "Back to the site" }}
      period={period}
    />
  );
}
