import { useEffect, useRef, useState } from "react";
import type { Drawn } from "../../core/quality/monteCarlo";
import type { ResultUncertainty } from "../../core/quality/uncertainty";
import { formatNumber } from "../../core/quantity/format";
import type { DrawAnswer, DrawQuestion } from "../workers/draws.worker";
import { NotFetched } from "./NotFetched";

const DRAWS = 1_000_000;

/** A budget held against a million draws of its parts, beside the page, when somebody asks. */
export function ByDraws({
  uncertainty,
  unit,
  decimals,
}: {
  uncertainty: ResultUncertainty;
  unit: string;
  decimals: number;
}) {
  const [drawn, setDrawn] = useState<Drawn | "drawing" | "missing" | null>(null);
  const [share, setShare] = useState(0);
  const worker = useRef<Worker | null>(null);
  useEffect(() => () => worker.current?.terminate(), []);
  const draw = () => {
    setDrawn("drawing");
    worker.current?.terminate();
    const own = new Worker(new URL("../workers/draws.worker.ts", import.meta.url), { type: "module" });
    worker.current = own;
    own.onmessage = ({ data }: MessageEvent<DrawAnswer>) => {
      if (data.is === "progress") setShare(data.share);
      else {
        setDrawn(data.drawn);
        own.terminate();
      }
    };
    own.onerror = () => setDrawn("missing");
    const question: DrawQuestion = { value: uncertainty.value, parts: uncertainty.parts, draws: DRAWS };
    own.postMessage(question);
  };
  if (drawn === null)
    return (
      <button type="button" className="calm" onClick={draw}>
        Hold it against a million draws
      </button>
    );
  if (drawn === "drawing")
    return (
      <p className="quiet small" role="status">
        Drawing … {formatNumber(100 * share, 0)} %
      </p>
    );
  if (drawn === "missing") return <NotFetched again={draw} />;
  const n = (v: number) => formatNumber(v, decimals + 1);
  const [low, high] = [uncertainty.value - 2 * uncertainty.u, uncertainty.value + 2 * uncertainty.u];
  // As JCGM 101, 8.1 asks: the ends agree to half a unit of the last of two figures of u.
  const tolerance = 0.5 * 10 ** (Math.floor(Math.log10(uncertainty.u)) - 1);
  const apart = Math.max(Math.abs(low - drawn.low), Math.abs(high - drawn.high));
  return (
    <p className="small" role="status">
      95 of a hundred draws lie between{" "}
      <b className="m">
        {n(drawn.low)} and {n(drawn.high)} {unit}
      </b>
      ; k = 2 says {n(low)} to {n(high)}.{" "}
      {apart <= Math.max(tolerance, 0.05 * 2 * uncertainty.u)
        ? "Both agree."
        : "They differ: one part that is not normal is as large as the rest. The draws are nearer to the truth."}
    </p>
  );
}
