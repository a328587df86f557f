import { useState } from "react";
import { readValue } from "../../../core/quantity/entry";
import { formatNumber } from "../../../core/quantity/format";
import { casingVolume } from "../../../core/samples/purge";
import type { Place } from "../../../core/samples/site";
import { purgeAt } from "../../../core/samples/visit";
import { bucketRange, dipProblem } from "../../../core/samples/well";
import { NumberEntry } from "../../ui/NumberEntry";
import type { CardProps } from "./cardProps";

type Texts = Record<string, string>;

/** Reads several numbers of a card; sentences stand at their fields. */
function readAll(
  texts: Texts,
  units: Record<string, Parameters<typeof readValue>[1]>,
): { values: Record<string, number> } | { wrong: Texts } {
  const read = Object.entries(units).map(([key, unit]) => [key, readValue(texts[key] ?? "", unit)] as const);
  const wrong = Object.fromEntries(read.flatMap(([k, v]) => ("message" in v ? [[k, v.message]] : [])));
  if (Object.keys(wrong).length > 0) return { wrong };
  return { values: Object.fromEntries(read.flatMap(([k, v]) => ("value" in v ? [[k, v.value]] : []))) };
}

/** The well before it is pumped: its depth, its water, its casing. */
export function DipCard({ state, add, place }: CardProps & { place: Place }) {
  // What is known of the well stands there already; the water is dipped each time.
  const [texts, setTexts] = useState<Texts>({
    depth: String(place.well_depth_m ?? ""),
    level: "",
    diameter: String(place.casing_mm ?? ""),
  });
  const [wrong, setWrong] = useState<Texts>({});
  if (state.dip) {
    const { depth_m, level_m, diameter_mm } = state.dip;
    const volume = casingVolume(diameter_mm, depth_m - level_m);
    return (
      <p>
        <b className="m">{formatNumber(volume, 0)} L</b>{" "}
        <span className="quiet">
          stand in {formatNumber(depth_m - level_m, 2)} m of {formatNumber(diameter_mm, 0)} mm casing
        </span>
      </p>
    );
  }
  const field = (key: string, label: string, unit: "m" | "", hint: string) => (
    <NumberEntry
      label={label}
      unit={unit}
      name={key}
      text={texts[key] ?? ""}
      onText={(text) => {
        setTexts({ ...texts, [key]: text });
        setWrong({});
      }}
      wrong={wrong[key]}
      hint={hint}
    />
  );
  return (
    <form
      className="stack close"
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        const read = readAll(texts, { depth: "m", level: "m", diameter: "" });
        if ("wrong" in read) return setWrong(read.wrong);
        const { depth = 0, level = 0, diameter = 0 } = read.values;
        const dip = { depth_m: depth, level_m: level, diameter_mm: diameter };
        const problem = dipProblem(dip);
        if (problem) return setWrong({ [problem.path.replace(/_.*/, "")]: problem.message });
        add({ type: "dipped", dip });
      }}
    >
      <p className="quiet">
        Both depths from the same point{place.datum && `, the ${place.datum.replace(/^the /i, "")}`}, before
        anything is pumped.
        {place.pump && ` Pump: ${place.pump}.`}
        {place.sample_point && ` Sample at: ${place.sample_point}.`}
      </p>
      {field("depth", "Depth of the well", "m", "From the mark on the casing.")}
      {field("level", "Depth to the water", "m", "From the same mark.")}
      {field("diameter", "Inner diameter of the casing, mm", "", "As drilled, like 150.")}
      <button type="submit" className="act">
        Keep the dip
      </button>
    </form>
  );
}

/** The pump: its flow by bucket and clock, the volumes it has moved, the minutes that are left. */
export function PumpCard({ state, now, add }: CardProps) {
  const [texts, setTexts] = useState<Texts>({ litres: "", seconds: "" });
  const [wrong, setWrong] = useState<Texts>({});
  const purge = purgeAt(state, now);
  const { well } = state.plan;
  if (!purge || !well) return <p className="quiet">Dip the well first.</p>;
  const { wanted_l: wanted, pumped_l: pumped, left_min: left } = purge;
  const flow = state.flows.at(-1)?.l_per_s ?? 0;
  const one = wanted / well.volumes;
  return (
    <>
      <p className="visit-clock">
        <span className="m">{formatNumber(pumped, 0)} L</span>{" "}
        <span className="quiet">
          of {formatNumber(wanted, 0)} L
          {left === 0 ? ": purged" : left === null ? "" : `, ${Math.ceil(left)} min more`}
        </span>
      </p>
      <div
        className="volumes"
        role="img"
        aria-label={`${formatNumber(pumped / one, 1)} of ${well.volumes} volumes`}
      >
        {Array.from({ length: well.volumes }, (_, i) => (
          <span key={i}>
            <i style={{ width: `${Math.max(0, Math.min(1, pumped / one - i)) * 100}%` }} />
          </span>
        ))}
      </div>
      <form
        className="stack close"
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          const read = readAll(texts, { litres: "", seconds: "" });
          if ("wrong" in read) return setWrong(read.wrong);
          const { litres = 0, seconds = 0 } = read.values;
          if (litres <= 0 || litres > 1000)
            return setWrong({ litres: "A bucket holds between 0 and 1000 L." });
          if (seconds <= 0 || seconds > bucketRange.seconds[1])
            return setWrong({ seconds: "More than nothing, at most an hour." });
          add({ type: "flow", litres, seconds });
          setTexts({ litres: "", seconds: "" });
        }}
      >
        <p className="quiet">
          {flow > 0
            ? `It runs at ${formatNumber(flow, 2)} L/s. Measure again when it changes.`
            : "Start the pump, and measure the whole flow with a bucket and a clock."}
        </p>
        <div className="two">
          {(["litres", "seconds"] as const).map((key) => (
            <NumberEntry
              key={key}
              label={key === "litres" ? "Bucket, L" : "Filled in, s"}
              unit=""
              name={key}
              text={texts[key] ?? ""}
              onText={(text) => {
                setTexts({ ...texts, [key]: text });
                setWrong({});
              }}
              wrong={wrong[key]}
            />
          ))}
        </div>
        <div className="cluster">
          <button type="submit" className="act">
            {flow > 0 ? "The flow is this now" : "It runs"}
          </button>
          {flow > 0 && (
            <button type="button" className="calm strong" onClick={() => add({ type: "pump-stopped" })}>
              The pump stands
            </button>
          )}
        </div>
      </form>
    </>
  );
}
