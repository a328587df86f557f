import { useCallback, useEffect, useRef, useState } from "react";
import type { DilutionAnswer, DilutionQuestion } from "../../workers/dilution.worker";

type Found = Extract<DilutionAnswer, { is: "dilution" | "series" }>;

/** Plans of dilutions, searched for in a web worker: asked, stopped, and how far it is; `again` where its script could not be fetched. */
export function useDilutions() {
  const [found, setFound] = useState<Found | null>(null);
  const [share, setShare] = useState<number | null>(null);
  const [missing, setMissing] = useState<Omit<DilutionQuestion, "id"> | null>(null);
  const worker = useRef<Worker | null>(null);
  const asked = useRef(0);
  const stop = useCallback(() => {
    worker.current?.terminate();
    worker.current = null;
    setShare(null);
  }, []);
  useEffect(() => stop, [stop]);
  const ask = useCallback(
    (question: Omit<DilutionQuestion, "id">) => {
      stop();
      setMissing(null);
      asked.current++;
      worker.current = new Worker(new URL("../../workers/dilution.worker.ts", import.meta.url), {
        type: "module",
      });
      setShare(0);
      worker.current.onmessage = ({ data }: MessageEvent<DilutionAnswer>) => {
        if (data.id !== asked.current) return;
        if (data.is === "progress") return setShare(data.share);
        setFound(data);
        setShare(null);
      };
      worker.current.onerror = () => {
        setMissing(question);
        stop();
      };
      worker.current.postMessage({ ...question, id: asked.current });
    },
    [stop],
  );
  return { found, share, ask, stop, again: missing && (() => ask(missing)) };
}
