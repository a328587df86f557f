import { useEffect, useState } from "react";
import { ulid } from "ulid";
import { clockOffset, correctedNow, measureClock, onClockChange } from "../../ui/clock";
import { forget, keepUnsent, type Waiting } from "../../ui/outbox/store";
import { useSender, useWaiting } from "../../ui/outbox/useOutbox";

/**
 * What every page says at its top: what is not sent yet, what could not be kept, a clock that is off, a full disk; and at its foot, that
 * somebody who only looks tried to change something.
 */
export function Alarms({
  person,
  trouble,
  heldBack,
}: {
  person: string;
  trouble: string | null;
  heldBack: string | null;
}) {
  const waiting = useWaiting(person);
  const unreached = useSender(person, waiting);
  const off = useClockOffset();
  const unsent = waiting.filter((w) => w.refused === null).length;
  const refused = waiting.filter((w) => w.refused !== null);
  return (
    <div className="alarms" aria-live="polite">
      {trouble && <p className="alarm">{trouble}</p>}
      {heldBack && <p className="alarm at-foot">{heldBack}</p>}
      {unsent > 0 && unreached && (
        <p className="alarm">
          {unsent === 1 ? "1 thing is" : `${unsent} things are`} not sent yet. {unreached}
        </p>
      )}
      {refused.length > 0 && <Refused refused={refused} person={person} />}
      {off !== 0 && (
        <p className="alarm calm-alarm">
          The clock of this device is {clockWords(off)}. Brintel goes by the server's; set this one when you
          can.
        </p>
      )}
    </div>
  );
}

function useClockOffset(): number {
  const [off, setOff] = useState(0);
  useEffect(() => {
    const stop = onClockChange(() => setOff(clockOffset()));
    void measureClock().then(() => setOff(clockOffset()));
    return stop;
  }, []);
  return off;
}

/** Check value: an hour and a half too slow is "1 h 30 min behind". */
function clockWords(offset_ms: number): string {
  const minutes = Math.round(Math.abs(offset_ms) / 60_000);
  const hours = Math.floor(minutes / 60);
  const size =
    minutes === 0
      ? `${Math.round(Math.abs(offset_ms) / 1000)} s`
      : hours
        ? `${hours} h ${minutes % 60} min`
        : `${minutes} min`;
  return `${size} ${offset_ms > 0 ? "behind" : "ahead"}`;
}

/** What the server would not keep stays until somebody decides: once more, as a note, or not at all. */
function Refused({ refused, person }: { refused: readonly Waiting[]; person: string }) {
  const ids = refused.map((w) => w.id);
  const again = async () => {
    for (const w of refused) {
      await keepUnsent(person, w.work, {
        ...w.event,
        id: ulid(),
        at: new Date(correctedNow()).toISOString(),
      } as Waiting["event"]);
    }
    await forget(ids);
  };
  const note = async () => {
    for (const w of refused) {
      const text = `Could not be kept (${w.refused}): ${JSON.stringify(w.event)}`.slice(0, 480);
      await keepUnsent(person, w.work, {
        id: ulid(),
        type: "noted",
        text,
        at: new Date(correctedNow()).toISOString(),
        by: person,
      } as Waiting["event"]);
    }
    await forget(ids);
  };
  return (
    <div className="alarm" role="alert">
      <p>
        {refused.length === 1 ? "1 thing" : `${refused.length} things`} could not be kept:{" "}
        {[...new Set(refused.map((w) => w.refused))].join(" ")}
      </p>
      <div className="actions">
        <button type="button" className="calm" onClick={again}>
          Try once more
        </button>
        <button type="button" className="calm" onClick={note}>
          Put it into the notes
        </button>
        <button type="button" className="calm" onClick={() => forget(ids)}>
          Discard it
        </button>
      </div>
    </div>
  );
}
