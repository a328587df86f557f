import { useState } from "react";
import { Link, useLoaderData, useSearchParams } from "react-router";
import { calculatorGroups } from "../../../core/calculators/registry";
import { dbContext } from "../../server/platform/contexts.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { latestKept } from "../../server/solutions/kept.server";
import { KeptCalculations } from "../../ui/KeptCalculations";
import { PickGroups } from "../../ui/PickGroups";
import { Search } from "../../ui/Search";
import type { Route } from "./+types/solutions";
import { useRecentCalculators } from "./recent";

export const meta: Route.MetaFunction = () => [{ title: "Solutions · Brintel" }];

export const loader = async ({ context }: Route.LoaderArgs) => ({
  kept: await latestKept(context.get(dbContext), 6),
  zone: (await rulesInForce(context.get(dbContext))).rules.zone,
  groups: calculatorGroups.map(({ title, calculators }) => ({
    title,
    list: calculators.map(({ id, title, purpose }) => ({ id, title, purpose })),
  })),
});

export default function Solutions() {
  const { groups, kept, zone } = useLoaderData<typeof loader>();
  const recent = useRecentCalculators();
  const forWhat = useSearchParams()[0].get("for");
  const suffix = forWhat ? `?for=${encodeURIComponent(forWhat)}` : "";
  const [text, setText] = useState("");
  const wanted = text.trim().toLowerCase();
  const found = groups
    .map((g) => ({
      ...g,
      list: g.list.filter((c) => `${c.title} ${c.purpose} ${g.title}`.toLowerCase().includes(wanted)),
    }))
    .filter((g) => g.list.length > 0);
  return (
    <main className="stack">
      <div>
        <h1>Calculators</h1>
        <p className="sub">
          {forWhat
            ? `What you calculate now can be kept with ${forWhat}.`
            : "Each shows its formula, the numbers put in, and where it comes from."}
        </p>
      </div>
      <div className="cluster">
        <Link to="/solutions/planner" className="calm strong">
          Plan a dilution or a series
        </Link>
        <Search
          label="Find a calculator"
          example="Buffer, saturation, hardness …"
          value={text}
          onChange={setText}
        />
      </div>
      {recent.length > 0 && wanted === "" && !forWhat && (
        <nav className="cluster" aria-label="Used last in this browser">
          <span className="quiet small">Used last:</span>
          {recent.map((r) => (
            <Link key={r.id} to={`/solutions/${r.id}${r.search}`} className="calm">
              {r.title}
            </Link>
          ))}
        </nav>
      )}
      {found.length === 0 && <p className="quiet">No calculator is called that. Try what it works out.</p>}
      <PickGroups
        heading="h2"
        groups={found.map(({ title, list }) => ({
          title,
          cards: list.length,
          list: (
            <ul className="picks">
              {list.map((c) => (
                <li key={c.id}>
                  <Link to={`/solutions/${c.id}${suffix}`} className="pick">
                    <b>{c.title}</b>
                    <span className="quiet small">{c.purpose}</span>
                  </Link>
                </li>
              ))}
            </ul>
          ),
        }))}
      />
      {wanted === "" && <KeptCalculations kept={kept} zone={zone} title="Kept last" />}
    </main>
  );
}
