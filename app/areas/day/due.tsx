import { Link, useLoaderData } from "react-router";
import { counted } from "../../../core/quantity/format";
import { dueParts } from "../../server/day/groupDue";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, dueContext, personContext } from "../../server/platform/contexts.server";
import { dueFor } from "../../server/review/railOf.server";
import { DueMark } from "../../ui/DueMark";
import { Formula } from "../../ui/Formula";
import type { Route } from "./+types/due";

export const meta: Route.MetaFunction = () => [{ title: "What is due · Brintel" }];

export async function loader({ context }: Route.LoaderArgs) {
  const due = await dueFor(
    context.get(dbContext),
    context.get(personContext),
    nowIso(),
    await context.get(dueContext)(),
  );
  return { all: due.length, parts: dueParts(due) };
}

export default function Due() {
  const { all, parts } = useLoaderData<typeof loader>();
  return (
    <main className="stack">
      <div>
        <h1>What is due</h1>
        <p className="sub">
          {all === 0
            ? "Nothing is due. The next thing stands here when its time has come."
            : counted(all, "thing")}
        </p>
      </div>
      {parts.map(({ anchor, title, entries, others }) => (
        <section
          key={entries[0]?.id}
          id={anchor ?? undefined}
          className="stack close"
          aria-label={title ?? "One by one"}
        >
          {title && <h2>{title}</h2>}
          <ul className="list">
            {entries.map((due) => (
              <li key={due.id}>
                <DueMark size={20} />
                <div>
                  <Link to={due.href} className="name plainlink">
                    <Formula>{due.title}</Formula>
                  </Link>
                  <div className="quiet small">
                    <Formula>{due.detail}</Formula>
                  </div>
                </div>
                <div className="m">{due.when}</div>
                <Link to={due.href} className="calm go" aria-label={`Open: ${due.title}`}>
                  Open
                </Link>
              </li>
            ))}
          </ul>
          {others && (
            <p className="quiet">
              And {counted(others.count, "other")}: <Link to={others.href}>all of them under Checks</Link>.
            </p>
          )}
        </section>
      ))}
    </main>
  );
}
