import { useEffect } from "react";
import { Form, Link, useRevalidator } from "react-router";
import { counted } from "../../core/quantity/format";
import { showTime } from "../../core/time/words";
import type { RejudgingState } from "../server/results/rejudgeState.server";
import { RejudgingPreviewTable } from "./RejudgingPreview";
import { useSending } from "./useSending";

/** What readings new evidence touches: what would change, how far it is, what was done, or why it failed. */
export function Rejudging({
  state: { job, progress, preview },
  zone,
  nothing,
}: {
  state: RejudgingState;
  zone: string;
  /** What to say when no reading is touched. */
  nothing: string;
}) {
  const busy = useSending();
  useLookWhile(job?.status === "confirmed");
  // Of a bottle, of what was filled in, and without what was taken out, one result after the other follows.
  const inPieces = job !== null && ["bottle", "work", "entry", "strength"].includes(job.kind);
  if (job?.status === "confirmed") {
    return (
      <section className="sheet" aria-live="polite">
        <h2>Re-judging the readings …</h2>
        <progress max={1} value={progress ?? 0} aria-label="How much is re-judged" />
        <p className="quiet">
          {inPieces
            ? "You may go on working: one result after the other follows."
            : "You may go on working; nothing is half done."}
        </p>
      </section>
    );
  }
  if (job?.status === "failed") {
    return (
      <section className="sheet" role="alert">
        <h2>The re-judging failed: {inPieces ? "not all have followed" : "nothing was changed"}</h2>
        <p>{job.error}</p>
        <Form method="post">
          <button type="submit" name="do" value="rejudge" className="act" disabled={busy}>
            Try again
          </button>
        </Form>
      </section>
    );
  }
  const readings = counted(job?.readings ?? 0, "reading");
  if (job?.readings) {
    return (
      <section className="sheet">
        <h2>
          {job.changed
            ? `${job.changed} of ${readings} re-judged`
            : `${readings} judged anew: all stay as they were`}
        </h2>
        <p className="quiet">
          {showTime(job.finished_at ?? job.requested_at, zone, "both")}. Each keeps what it was before in its
          history. <Link to="/ledger">See them in the ledger</Link>.
        </p>
      </section>
    );
  }
  if (job || !preview || preview.readings === 0) return <p className="note">{nothing}</p>;
  return (
    <section className="sheet" aria-label="Readings that are touched">
      <h2>
        {preview.changed} of {counted(preview.readings, "reading")} would change
      </h2>
      <RejudgingPreviewTable preview={preview} zone={zone} />
      <Form method="post">
        <button type="submit" name="do" value="rejudge" className="act" disabled={busy} autoFocus>
          Re-judge {counted(preview.readings, "reading")} <kbd>enter</kbd>
        </button>
      </Form>
    </section>
  );
}

/** Looks again while it runs, and once more when it is done: the day's line may have looked a moment too early. */
function useLookWhile(running: boolean): void {
  const { revalidate } = useRevalidator();
  useEffect(() => {
    if (!running) return;
    const timer = setInterval(() => void revalidate(), 500);
    return () => {
      clearInterval(timer);
      void revalidate();
    };
  }, [running, revalidate]);
}
