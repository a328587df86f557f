import { Form, Link, redirect, useLoaderData } from "react-router";
import { formatNumber } from "../../../core/quantity/format";
import { duration, showTime } from "../../../core/time/words";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { may } from "../../server/platform/rights.server";
import { rulesInForce } from "../../server/rules/rules.server";
import { askForBackup } from "../../server/upkeep/backupRunner.server";
import { stateOf } from "../../server/upkeep/state.server";
import { Rows } from "../../ui/EvidencePanel";
import { useWaiting } from "../../ui/outbox/useOutbox";
import { useLookAgain } from "../../ui/useLookAgain";
import { useSending } from "../../ui/useSending";
import { WideTable } from "../../ui/WideTable";
import type { Route } from "./+types/upkeep";

export const meta: Route.MetaFunction = () => [{ title: "Upkeep · Brintel" }];

export async function loader({ context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const person = context.get(personContext);
  return {
    state: await stateOf(db),
    zone: (await rulesInForce(db)).rules.zone,
    person: person.id,
    mayKeep: may(person, "upkeep"),
  };
}

/** Makes a backup now. It is made beside the server; the page looks again until it is there. */
export function action({ context }: Route.ActionArgs) {
  askForBackup(context.get(dbContext), context.get(personContext));
  return redirect("/upkeep");
}

const megabytes = (bytes: number): string =>
  bytes >= 1e9 ? `${formatNumber(bytes / 1e9, 2)} GB` : `${formatNumber(bytes / 1e6, 1)} MB`;

/** How Brintel is doing: backups, room, the journal's check, the program. */
export default function Upkeep() {
  const { state, zone, person, mayKeep } = useLoaderData<typeof loader>();
  const busy = useSending();
  const unsent = useWaiting(person).length;
  const { backups, backup, verified, sealed } = state;
  useLookAgain(async () => true, backup.running);
  const [last] = backups;
  return (
    <main className="stack">
      <div>
        <h1>Upkeep</h1>
        <p className="sub">
          Brintel {state.version}, running for {duration(state.up_s)}. What to do when something goes wrong
          stands in docs/operations.md.
        </p>
      </div>
      {state.trouble && (
        <p className="alarm" role="alert">
          {state.trouble}
        </p>
      )}
      <section className="sheet stack close" aria-label="Backups">
        <h2>Backups</h2>
        {backup.failed && (
          <p className="wrong" role="alert">
            {showTime(backup.failed.at, zone, "both")}: {backup.failed.message}
          </p>
        )}
        {backup.running ? (
          <p role="status">A backup is being made and checked …</p>
        ) : last ? (
          <p>
            The last one is of <b>{showTime(last.made_at, zone, "both")}</b>:{" "}
            <span className="m">{megabytes(last.bytes)}</span>, checked by reading it.
          </p>
        ) : (
          <p>
            There is no backup yet. Where one is due on the schedule, it is made a minute after the start.
          </p>
        )}
        {mayKeep && state.place && !backup.running && (
          <Form method="post">
            <button type="submit" className={last ? "calm strong" : "act"} disabled={busy}>
              Back up now
            </button>
          </Form>
        )}
        {backups.length > 0 && (
          <WideTable name="Backups that are kept">
            <table className="plain-table">
              <thead>
                <tr>
                  <th scope="col">Made</th>
                  <th scope="col">Size</th>
                  <th scope="col">Entries</th>
                  <th scope="col">By Brintel</th>
                  <th scope="col">File</th>
                </tr>
              </thead>
              <tbody>
                {backups.map((b) => (
                  <tr key={b.file}>
                    <td>{showTime(b.made_at, zone, "full")}</td>
                    <td className="m">{megabytes(b.bytes)}</td>
                    <td className="m">{formatNumber(b.journal.seq, 0)}</td>
                    <td>{b.version}</td>
                    <td className="m small">{b.file}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </WideTable>
        )}
        <p className="quiet small">
          Kept are the newest three, the newest of each of 14 days, and of each of 12 months. Copy the folder
          to another machine: a backup on the same disk is lost with it.
        </p>
      </section>
      <div className="columns">
        <section className="sheet" aria-label="The records">
          <h2>The records</h2>
          <Rows
            rows={[
              ["Entries of the journal", formatNumber(state.entries, 0)],
              [
                "Sealed up to",
                sealed ? `${formatNumber(sealed.seq, 0)}, ${showTime(sealed.at, zone, "both")}` : "–",
              ],
              [
                "Checked",
                verified
                  ? `${showTime(verified.at, zone, "both")}: ${verified.faults.length ? `${verified.faults.length} do not fit` : "everything fits"}`
                  : "never",
              ],
            ]}
          />
          <p>
            <Link to="/journal">Journal and its check</Link> · <Link to="/keys">Keys for programs</Link>
          </p>
        </section>
        <section className="sheet" aria-label="The machine">
          <h2>The machine</h2>
          <Rows
            rows={[
              ["Database", megabytes(state.bytes)],
              ["Room for backups", state.free_bytes === null ? "–" : megabytes(state.free_bytes)],
              ["Memory in use", megabytes(state.memory_bytes)],
              ["Schema", state.migration],
              ["Node", state.node],
            ]}
          />
          <p>
            <a href="/notices.txt">Licences of what Brintel is made with</a>
          </p>
        </section>
        <section className="sheet" aria-label="This browser">
          <h2>This browser</h2>
          <Rows rows={[["Not sent yet", String(unsent)]]} />
          <p className="quiet small">What is captured without a network waits here and is sent by itself.</p>
        </section>
      </div>
    </main>
  );
}
