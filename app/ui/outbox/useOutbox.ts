import { useEffect, useState } from "react";
import { sendWaiting } from "./send";
import { adoptOldOutbox, onOutboxChange, type Waiting, waitingOf } from "./store";

/** How often what waits is sent again while the server cannot be reached, in milliseconds. */
const again_ms = 3000;

/** What waits of a person, kept up to date across tabs. */
export function useWaiting(person: string): Waiting[] {
  const [waiting, setWaiting] = useState<Waiting[]>([]);
  useEffect(() => {
    let here = true;
    const look = async () => {
      const all = await waitingOf(person).catch(() => []);
      if (here) setWaiting(all);
    };
    void look();
    const stop = onOutboxChange(look);
    return () => {
      here = false;
      stop();
    };
  }, [person]);
  return waiting;
}

/** Sends what waits of a person from whatever page is open, until it is sent. Returns why it could not be; null when it could. */
export function useSender(person: string, waiting: readonly Waiting[]): string | null {
  const [trouble, setTrouble] = useState<string | null>(null);
  const unsent = waiting.filter((w) => w.refused === null).length;
  useEffect(() => {
    void adoptOldOutbox(person);
  }, [person]);
  useEffect(() => {
    if (unsent === 0) {
      setTrouble(null);
      return;
    }
    const send = async () => setTrouble((await sendWaiting(person)).trouble);
    void send();
    const timer = setInterval(send, again_ms);
    window.addEventListener("online", send);
    return () => {
      clearInterval(timer);
      window.removeEventListener("online", send);
    };
  }, [person, unsent]);
  return trouble;
}
