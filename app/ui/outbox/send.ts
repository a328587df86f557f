import { correctedNow, learnClock } from "../clock";
import { forget, markRefused, type Waiting, waitingOf } from "./store";

/** So many events go in one request; the rest follow. */
const chunkSize = 100;
/** A server that has not answered by then is not there. */
const timeout_ms = 10_000;

/** What came of sending: how much was kept, and a sentence when it could not be done. */
export interface Sent {
  kept: number;
  trouble: string | null;
}

const unreached = "Brintel cannot be reached. What you captured is kept in this browser and will be sent.";

/** A bench loads it ahead: by the time it is needed the network may be gone. */
export const answerReader = () => import("./answers");

/** Sends one chunk of one piece of work. Only what the server has kept, or knew, is forgotten here. */
async function sendChunk(work: string, chunk: readonly Waiting[]): Promise<Sent> {
  try {
    // What reads the answers is loaded by whoever has something to send, and before it is sent.
    const { readAnswers, readMessage } = await answerReader();
    const asked = Date.now();
    const response = await fetch(`/bench/${work}/events`, {
      method: "POST",
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify({
        sent_at: new Date(correctedNow()).toISOString(),
        events: chunk.map((w) => w.event),
      }),
      signal: AbortSignal.timeout(timeout_ms),
    });
    const body: unknown = await response.json().catch(() => null);
    if (!response.ok) {
      return { kept: 0, trouble: readMessage(body) ?? unreached };
    }
    const { answers, now } = readAnswers(body);
    learnClock(now, asked, Date.now());
    const there = answers.filter((a) => a.is !== "refused").map((a) => a.id);
    await forget(there);
    await markRefused(answers.flatMap((a) => (a.is === "refused" ? [a] : [])));
    return { kept: there.length, trouble: null };
  } catch {
    return { kept: 0, trouble: unreached };
  }
}

let sending: Promise<Sent> | null = null;

/** Sends everything of a person that waits, work by work and in order; while it is being sent, asking again waits for it. */
export function sendWaiting(person: string): Promise<Sent> {
  sending ??= sendAll(person).finally(() => {
    sending = null;
  });
  return sending;
}

async function sendAll(person: string): Promise<Sent> {
  let kept = 0;
  for (;;) {
    const waiting = (await waitingOf(person)).filter((w) => w.refused === null);
    const [first] = waiting;
    if (!first) return { kept, trouble: null };
    const chunk = waiting.filter((w) => w.work === first.work).slice(0, chunkSize);
    const sent = await sendChunk(first.work, chunk);
    kept += sent.kept;
    if (sent.trouble) return { kept, trouble: sent.trouble };
    // An answer that names none of what was sent would be asked for for ever.
    const left = new Set((await waitingOf(person)).filter((w) => w.refused === null).map((w) => w.id));
    if (chunk.every((w) => left.has(w.id))) return { kept, trouble: unreached };
  }
}
