import "./samples.css";
import { Checkbox, Select } from "antd";
import { Form, Link, useLoaderData, useNavigate } from "react-router";
import { counted } from "../../../core/quantity/format";
import { showTime } from "../../../core/time/words";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext } from "../../server/platform/contexts.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { samplesPage } from "../../server/samples/samples.server";
import { allSites } from "../../server/sites/sites.server";
import { VerdictMark } from "../../ui/VerdictMark";
import { WideTable } from "../../ui/WideTable";
import type { Route } from "./+types/samples";

export const meta: Route.MetaFunction = () => [{ title: "Samples · Brintel" }];

export async function loader({ url, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const which = url.searchParams.get("which") === "all" ? ("all" as const) : ("waiting" as const);
  const sites = (await allSites(db)).map(({ id, name }) => ({ id, name }));
  const site = sites.find((s) => s.id === url.searchParams.get("site"))?.id;
  const page = await samplesPage(db, { which, site, after: url.searchParams.get("after") ?? undefined });
  return {
    ...page,
    which,
    missing: url.searchParams.get("missing")?.slice(0, 60) ?? null,
    site: site ?? null,
    sites,
    zone: (await rulesInForce(db)).rules.zone,
    now: nowIso(),
  };
}

export default function Samples() {
  const { rows, next, which, missing, site, sites, zone, now } = useLoaderData<typeof loader>();
  const navigate = useNavigate();
  const at = (change: { which?: string; site?: string; after?: string }) => {
    const query = new URLSearchParams({ which, ...(site ? { site } : {}), ...change });
    if (!query.get("site")) query.delete("site");
    return `?${query}`;
  };
  return (
    <main className="stack">
      <div className="pagehead">
        <div>
          <h1>Samples</h1>
          <p className="sub">
            Every bottle with its name: what is still wanted of it, and until when it keeps.
          </p>
        </div>
        <div className="cluster">
          <Link to="/samples/new" className="calm strong">
            Receive a sample
          </Link>
          <Link to="/custody" className="calm strong">
            Batches for laboratories
          </Link>
          <Link to="/bottles" className="calm strong">
            Bottles
          </Link>
        </div>
      </div>
      {missing && (
        <p className="note" role="alert">
          No sample bears the code “{missing}”. Look at the label again, or receive it as a new one.
        </p>
      )}
      <div className="cluster">
        <nav className="cluster" aria-label="Which samples">
          <Link to={at({ which: "waiting", after: "" })} className="calm" aria-current={which === "waiting"}>
            Waiting
          </Link>
          <Link to={at({ which: "all", after: "" })} className="calm" aria-current={which === "all"}>
            All
          </Link>
        </nav>
        <Select
          aria-label="From which site"
          size="large"
          className="search"
          showSearch
          optionFilterProp="label"
          value={site ?? ""}
          options={[
            { value: "", label: "Every site" },
            ...sites.map((s) => ({ value: s.id, label: s.name })),
          ]}
          onChange={(id: string) => navigate(at({ site: id, after: "" }), { preventScrollReset: true })}
        />
      </div>
      {rows.length === 0 ? (
        <p className="sheet">
          {which === "waiting"
            ? "No sample waits for a test. "
            : "No sample is registered yet: a visit fills bottles, or somebody brings one. "}
          {which === "waiting" ? (
            <Link to={at({ which: "all" })}>Look at all of them</Link>
          ) : (
            <Link to="/visits">Plan a visit</Link>
          )}
        </p>
      ) : (
        <Form method="get" className="stack">
          <WideTable name="Samples">
            <table className="figures">
              <thead>
                <tr>
                  <th>
                    <span className="hidden">Choose</span>
                  </th>
                  <th>Sample</th>
                  <th>{which === "waiting" ? "Until" : "Taken"}</th>
                  <th>From</th>
                  <th>Bottle</th>
                  <th>Wanted</th>
                </tr>
              </thead>
              <tbody>
                {rows.map((s) => (
                  <tr key={s.id}>
                    <td>
                      <Checkbox name="id" value={s.id} aria-label={`Choose ${s.code}`} />
                    </td>
                    <td className="nowrap">
                      <VerdictMark verdict={s.verdict} />{" "}
                      <Link to={`/samples/${s.id}`} className="m">
                        {s.code}
                      </Link>
                    </td>
                    <td className="nowrap">
                      {which === "waiting" && s.waits_until ? (
                        <span className={s.waits_until < now ? "over" : ""}>
                          {showTime(s.waits_until, zone, "both")}
                          {s.waits_until < now && ", over"}
                        </span>
                      ) : (
                        showTime(s.collected_at, zone, "both")
                      )}
                    </td>
                    <td>{s.site}</td>
                    <td>{s.type_name}</td>
                    <td>{wantedWords(s)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </WideTable>
          <div className="cluster">
            <button type="submit" formAction="/samples/labels" className="calm strong">
              Labels for the chosen ones
            </button>
            <button type="submit" formAction="/custody" className="calm strong">
              Send the chosen ones to a laboratory
            </button>
            {next && <Link to={at({ after: next })}>Further ones</Link>}
          </div>
        </Form>
      )}
    </main>
  );
}

type Row = ReturnType<typeof useLoaderData<typeof loader>>["rows"][number];

function wantedWords({ status, wanted, waits_until }: Row): string {
  if (status !== "kept") return status === "emptied" ? "emptied again" : "poured away";
  if (wanted.length === 0) return "no test here";
  return waits_until === null ? "all done" : counted(wanted.length, "test");
}
