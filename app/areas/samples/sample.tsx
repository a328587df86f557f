import { useSending } from "../../ui/useSending";
import "./samples.css";
import { Form, Link, redirect, useLoaderData } from "react-router";
import { z } from "zod";
import { showResult } from "../../../core/quantity/showResult";
import { fillWords } from "../../../core/samples/bottleTypes";
import { showTime } from "../../../core/time/words";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { discardSample, wantTests } from "../../server/samples/receiveSample.server";
import { loadSample } from "../../server/samples/samplePage.server";
import { DueMark } from "../../ui/DueMark";
import { EvidencePanel, Findings, Rows } from "../../ui/EvidencePanel";
import { Formula } from "../../ui/Formula";
import { KeptCalculations } from "../../ui/KeptCalculations";
import { ManyField } from "../../ui/ManyField";
import { resultHref } from "../../ui/results";
import { useNow } from "../../ui/useNow";
import { VerdictMark } from "../../ui/VerdictMark";
import type { Route } from "./+types/sample";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.sample.code ?? "Sample"} · Brintel` },
];

export const loader = ({ params, context }: Route.LoaderArgs) =>
  loadSample(context.get(dbContext), params.sampleId);

const formSchema = z.discriminatedUnion("do", [
  z.object({ do: z.literal("discard") }),
  z.object({ do: z.literal("want"), methods: z.array(z.string().max(60)).max(40) }),
]);

export async function action({ request, params, context }: Route.ActionArgs) {
  const form = await request.formData();
  const read = formSchema.safeParse({ do: form.get("do"), methods: form.getAll("methods").map(String) });
  if (!read.success) throw new Response("This form is not known here.", { status: 422 });
  const [db, actor] = [context.get(dbContext), context.get(personContext)];
  if (read.data.do === "discard") await discardSample(db, params.sampleId, actor, nowIso());
  else await wantTests(db, params.sampleId, read.data.methods, actor, nowIso());
  return redirect(`/samples/${params.sampleId}`);
}

type Loaded = ReturnType<typeof useLoaderData<typeof loader>>;

export default function SamplePage() {
  const { sample, type, added, received, wanted, readings, methods, batches, kept, zone, now } =
    useLoaderData<typeof loader>();
  const findings = [...sample.findings, ...batches.flatMap((b) => b.findings)];
  return (
    <>
      <main className="stack">
        <div className="pagehead">
          <div>
            <h1 className="m">{sample.code}</h1>
            <p className="sub">
              <Link to={`/sites/${sample.site_id}`}>{sample.site}</Link>, taken{" "}
              {showTime(sample.collected_at, zone, "both")} · {sample.type_name}
            </p>
          </div>
          <div className="cluster">
            <Link to={`/samples/labels?id=${sample.id}`} className="calm strong">
              Label
            </Link>
            {sample.status === "kept" && (
              <Link to={`/custody?id=${sample.id}`} className="calm strong">
                Send it to a laboratory
              </Link>
            )}
          </div>
        </div>
        {sample.status !== "kept" && (
          <p className="note">
            {sample.status === "emptied"
              ? "This bottle was emptied again at the water."
              : "It was poured away. What was measured of it stays."}
          </p>
        )}
        {sample.waits_until && <Keeps end={sample.waits_until} now={now} zone={zone} />}
        <Wanted sample={sample} wanted={wanted} zone={zone} now={now} />
        {sample.status === "kept" && <WantMore methods={methods} wanted={wanted} />}
        <section className="stack close" aria-label="Measured of it">
          <h2>Measured of it</h2>
          {readings.length === 0 ? (
            <p className="quiet">Nothing yet.</p>
          ) : (
            <ul className="wanted-list">
              {readings.map((r) => (
                <li key={r.id}>
                  <VerdictMark verdict={r.verdict} size={18} />
                  <span className="what">
                    <Link to={resultHref(r)}>
                      <Formula>{r.analyte}</Formula>
                    </Link>
                    <span className="quiet">
                      {showTime(r.measured_at, zone, "both")} · {r.meter}
                    </span>
                  </span>
                  <span>
                    <b className="m big">{showResult(r)}</b> {r.unit}
                  </span>
                </li>
              ))}
            </ul>
          )}
        </section>
        <KeptCalculations kept={kept} zone={zone} calculateFor={sample.code} />
        {sample.status === "kept" && (
          <details className="take-out">
            <summary>Pour it away</summary>
            <Form method="post" className="stack close">
              <p className="quiet">
                Nothing is wanted of it any more; a retest would need new water. Its waste goes where its
                preservative asks: see the safety sheet.
              </p>
              <button type="submit" name="do" value="discard" className="calm strong">
                It is poured away
              </button>
            </Form>
          </details>
        )}
      </main>
      <EvidencePanel title="What this sample rests on">
        <p className="evidence-claim">
          <b>How it was taken and kept</b>
          <VerdictMark verdict={sample.verdict} size={18} word />
        </p>
        <h3>Findings</h3>
        {findings.length ? <Findings findings={findings} /> : <p className="quiet">Nothing to object to.</p>}
        <h3>Bottle</h3>
        <Rows
          rows={[
            ["Filled", fillWords[type.fill]],
            ["Added", added ?? "nothing"],
            ["Filter", type.filter ? `${type.filter.pore_um} µm` : "none"],
            ["Keeps until", showTime(sample.keeps_until, zone, "both")],
          ]}
        />
        <h3>Came from</h3>
        {sample.visit_id ? (
          <p>
            <Link to={`/visits/${sample.visit_id}`}>The visit that filled it</Link>
          </p>
        ) : (
          received && (
            <Rows
              rows={[
                ["Received", showTime(received.at, zone, "both")],
                ["From", received.from],
                [
                  "Then at",
                  received.temperature_c === null ? "not measured" : `${received.temperature_c} °C`,
                ],
                ...(received.note ? ([["Note", received.note]] as [string, string][]) : []),
              ]}
            />
          )
        )}
        {batches.length > 0 && (
          <>
            <h3>Went to</h3>
            <Rows
              rows={batches.map((b) => [
                <Link key={b.id} to={`/custody/${b.id}`}>
                  {b.laboratory}
                </Link>,
                b.received_at ? `received ${showTime(b.received_at, zone, "both")}` : "not received yet",
              ])}
            />
          </>
        )}
      </EvidencePanel>
    </>
  );
}

/** How long its water is still good for what waits for it, counted down. */
function Keeps({ end, now, zone }: { end: string; now: string; zone: string }) {
  const clock = useNow(Date.parse(now));
  const minutes = Math.floor((Date.parse(end) - clock) / 60_000);
  const by = showTime(end, zone, "both");
  if (minutes <= 0) {
    return (
      <p className="holding over">It kept until {by}: what is tested now is noted as late. Take new water.</p>
    );
  }
  return (
    <p className="holding">
      <b className="m">{minutes >= 120 ? `${Math.floor(minutes / 60)} h` : `${minutes} min`}</b> left: the
      first of its tests must be done by {by}.
    </p>
  );
}

function Wanted({ sample, wanted, zone, now }: Pick<Loaded, "sample" | "wanted" | "zone" | "now">) {
  if (wanted.length === 0) return null;
  return (
    <section className="stack close" aria-label="Wanted of it">
      <h2>Wanted of it</h2>
      <ul className="wanted-list">
        {wanted.map((w) => (
          <li key={w.method}>
            {w.work?.status === "finished" ? (
              <VerdictMark verdict="sound" size={18} />
            ) : (
              <DueMark size={18} />
            )}
            <span className="what">
              <b>{w.name}</b>
              <span className={w.keeps_until < now && !w.work ? "over" : "quiet"}>
                {w.work?.status === "finished"
                  ? "done"
                  : `keeps until ${showTime(w.keeps_until, zone, "both")}${w.keeps_until < now ? ", over" : ""}`}
              </span>
            </span>
            {w.work ? (
              <Link to={`/runs/${w.work.id}`} className="calm strong">
                {w.work.status === "finished" ? "Look at it" : "Go on with it"}
              </Link>
            ) : (
              sample.status === "kept" && (
                <Link
                  className="calm strong"
                  to={`/runs/new/${w.method}?site=${sample.site_id}&sample=${encodeURIComponent(sample.code)}&collected=${sample.collected_at}${sample.visit_id ? `&visit=${sample.visit_id}` : ""}`}
                >
                  Begin
                </Link>
              )
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

function WantMore({ methods, wanted }: Pick<Loaded, "methods" | "wanted">) {
  const busy = useSending();
  return (
    // What was added is no longer to choose: the field begins anew.
    <Form method="post" className="cluster" key={wanted.length}>
      <input type="hidden" name="do" value="want" />
      <ManyField
        name="methods"
        label="More tests of it"
        placeholder="More tests of it"
        options={methods.map((m) => ({ value: m.id, label: m.name }))}
        hidden
      >
        {(some) => (
          <button type="submit" className="calm strong" disabled={busy || !some}>
            Add them
          </button>
        )}
      </ManyField>
    </Form>
  );
}
