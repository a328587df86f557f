import { useLoaderData } from "react-router";
import { describeHouseRules } from "../../../core/quality/houseRules";
import { dbContext } from "../../server/contexts.server";
import { rulesInForce } from "../../server/rules.server";
import type { Route } from "./+types/rules";

export const meta: Route.MetaFunction = () => [{ title: "House rules · Brintel" }];

export async function loader({ context }: Route.LoaderArgs) {
  const { version, rules } = await rulesInForce(context.get(dbContext));
  return { version, zone: rules.zone, described: describeHouseRules(rules) };
}

export default function Rules() {
  const { version, zone, described } = useLoaderData<typeof loader>();
  return (
    <main className="narrow">
      <h1>House rules</h1>
      <p className="sub">
        Version {version} is in force; every reading keeps the version it was judged by. Days begin and end in{" "}
        {zone}.
      </p>
      <div className="sheet" style={{ marginTop: 16 }}>
        <table className="figures">
          <tbody>
            {described.map((r) => (
              <tr key={r.rule}>
                <th scope="row" style={{ width: 190, verticalAlign: "top", paddingTop: 9 }}>
                  {r.rule}
                </th>
                <td>
                  <div style={{ fontSize: 16 }}>{r.value}</div>
                  <div className="quiet">{r.reason}</div>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </main>
  );
}
