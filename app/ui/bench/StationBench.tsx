import "./bench.css";
import "./settling.css";
import { Suspense, useCallback, useEffect, useState } from "react";
import type { Capture } from "../../../core/bench/capture";
import { measured } from "../../../core/bench/measured";
import type { MeterSnapshot } from "../../../core/bench/meter";
import { currentStation, nextAction } from "../../../core/bench/station";
import { afterTheLast, beforeTheFirst, settlingSeconds } from "../../../core/calibration/handling";
import type { Measurand } from "../../../core/quantity/measurand";
import type { HouseRules } from "../../../core/rules/houseRules";
import { correctedNow } from "../clock";
import { useKey } from "../keys";
import { lazyPart } from "../lazyPart";
import { Beakers, type NamedStation } from "./Beakers";
import { SettlingClock } from "./SettlingClock";
import { SignalCard, type ToValue } from "./SignalCard";
import type { Guard } from "./TypedCapture";
import { useDeviceStream } from "./useDeviceStream";
import { useWakeLock } from "./useWakeLock";

export interface BenchStation extends NamedStation {
  /** What is captured here. */
  measurands: readonly Measurand[];
  rinseWords: string;
  placeWords: string;
  /** "the probe is in …" */
  inWords: string;
  adjustable: boolean;
  /** A station that may be left out says with which words. */
  skipWords: string | null;
}

/** Where the events go; the two kinds of bench work share these. */
export interface StationMoves {
  rinsed(station: number): void;
  placed(station: number): void;
  skipped(station: number): void;
  captured(station: number, capture: Capture): void;
  finished(): void;
  undo(): void;
}

interface Props {
  workId: string;
  meter: MeterSnapshot;
  stations: BenchStation[];
  rules: HouseRules;
  /** The oxygen sensor's signal in air, what its limits are held against. */
  oxygenSpan: number;
  moves: StationMoves;
  canUndo: boolean;
  trouble: string | null;
  /** Events the server has not yet kept. */
  unsent: number;
  finishWords: string;
  toValue: ToValue;
  guard: Guard;
  children?: React.ReactNode;
}

const TypedCapture = lazyPart(() => import("./TypedCapture"));

const noMeasurands: readonly Measurand[] = [];

/** One task at a time: rinse, put in, capture; space does the obvious thing. */
export function StationBench(props: Props) {
  const { meter, stations, rules, moves, canUndo, trouble, oxygenSpan } = props;
  const index = currentStation(stations);
  const action = nextAction(stations);
  const station = stations[index];
  const measurands = station?.measurands ?? noMeasurands;
  const live = useDeviceStream(
    meter.has_cable ? meter.id : null,
    { measurands, rules, oxygenSpan },
    `${index}:${action}:${props.unsent > 0}`,
  );
  const [armed, setArmed] = useState(false);
  const [typing, setTyping] = useState(false);
  useWakeLock();

  // biome-ignore lint/correctness/useExhaustiveDependencies: a new step starts without the last one's choices
  useEffect(() => {
    setArmed(false);
    setTyping(false);
  }, [index, action]);

  // What is not sent yet may be where the probe is: until the server knows, its signal is that of the solution before.
  const steady = live.steady && props.unsent === 0;
  const capture = useCallback(() => {
    if (live.temperature_c === null || !live.inSolution) return;
    const temperature = live.temperature_c;
    moves.captured(index, {
      source: "live",
      values: measurands.map((m) => {
        const channel = live.channels[m];
        return measured(m, {
          signal: channel?.value ?? null,
          scatter: Number.isFinite(channel?.stability?.scatter)
            ? (channel?.stability?.scatter ?? null)
            : null,
          per_min: channel?.per_min ?? null,
          // The simulated reference thermometer stands in the same water.
          ...(m === "temperature" && station?.adjustable ? { reference: temperature } : {}),
        });
      }),
      temperature_c: temperature,
      steady,
      seconds_in_solution: Math.round(live.seconds_in_solution * 10) / 10,
    });
  }, [live, steady, index, moves, measurands, station?.adjustable]);

  useEffect(() => {
    if (armed && steady && action === "capture") {
      setArmed(false);
      capture();
    }
  }, [armed, steady, action, capture]);

  const all = [...new Set(stations.flatMap((s) => s.measurands))];
  const settle = settlingSeconds(measurands);
  const showLive = action === "capture" && meter.has_cable && !typing;
  const space = useCallback(() => {
    if (action === "rinse") moves.rinsed(index);
    else if (action === "place") moves.placed(index);
    else if (action === "finish") moves.finished();
    else if (showLive && steady) capture();
    else if (showLive) setArmed((on) => !on);
  }, [action, index, moves, showLive, steady, capture]);

  useKey("space", "space", "Do the obvious thing", space, action !== "capture" || showLive);
  useKey("backspace", "⌫", "Undo the last step", moves.undo, canUndo);
  useKey("c", "c", "Capture now, steady or not", capture, showLive);
  // Typing must work when the network is gone by then.
  useEffect(() => {
    TypedCapture.ahead();
  }, []);
  useKey("t", "t", "Type the value by hand", () => setTyping(true), showLive);

  return (
    <div className="bench">
      <Beakers stations={stations} />
      {station && action === "rinse" && (
        <div className="task sheet">
          {station.rinseWords}
          {index === 0 && <Handling words={beforeTheFirst(all, meter.has_cable)} />}
        </div>
      )}
      {station && action === "place" && <div className="task sheet">{station.placeWords}</div>}
      {showLive && (
        <SignalCard
          live={{ ...live, steady }}
          rules={rules}
          measurands={measurands}
          toValue={props.toValue}
        />
      )}
      {station?.placed_at && action === "capture" && !showLive && settle > 0 && (
        <SettlingClock key={`clock-${index}`} since={station.placed_at} seconds={settle} />
      )}
      {station && action === "capture" && !showLive && (
        <Suspense key={index} fallback={null}>
          <TypedCapture
            draftKey={`${props.workId}:${index}`}
            meter={meter}
            measurands={measurands}
            adjustable={station.adjustable}
            guard={props.guard}
            onCapture={(typed) =>
              moves.captured(index, {
                ...typed,
                seconds_in_solution: station.placed_at
                  ? Math.max(0, Math.round((correctedNow() - Date.parse(station.placed_at)) / 1000))
                  : null,
              })
            }
            {...(meter.has_cable ? { onLive: () => setTyping(false) } : {})}
          />
        </Suspense>
      )}
      {action === "finish" && (
        <div className="task sheet">
          {props.children}
          <Handling words={afterTheLast(all)} />
        </div>
      )}
      <div className="actions">
        {(action !== "capture" || showLive) && (
          <button type="button" className="act" onClick={space} disabled={showLive && !live.inSolution}>
            {action === "rinse" && "Rinsed"}
            {action === "place" && station?.inWords}
            {action === "finish" && props.finishWords}
            {showLive && (steady ? "Capture it" : armed ? "Will capture when steady" : "Capture when steady")}
            <kbd>space</kbd>
          </button>
        )}
        {showLive && (
          <>
            <button type="button" className="calm" onClick={capture} disabled={!live.inSolution}>
              Capture now <kbd>c</kbd>
            </button>
            <button type="button" className="calm" onClick={() => setTyping(true)}>
              Type it <kbd>t</kbd>
            </button>
          </>
        )}
        {action === "rinse" && station && (
          <button type="button" className="calm" onClick={() => moves.placed(index)}>
            Go on without rinsing
          </button>
        )}
        {station?.skipWords && (
          <button type="button" className="calm" onClick={() => moves.skipped(index)}>
            {station.skipWords}
          </button>
        )}
        {canUndo && (
          <button type="button" className="calm" onClick={moves.undo}>
            Undo <kbd>⌫</kbd>
          </button>
        )}
      </div>
      {trouble && (
        <p className="wrong" role="alert">
          {trouble}
        </p>
      )}
    </div>
  );
}

/** What is seen to in passing, below the task in hand. */
function Handling({ words }: { words: readonly string[] }) {
  return words.length ? (
    <ul className="points">
      {words.map((w) => (
        <li key={w}>{w}</li>
      ))}
    </ul>
  ) : null;
}
