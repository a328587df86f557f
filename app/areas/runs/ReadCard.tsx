import { useState } from "react";
import type { RunState } from "../../../core/runs/runState";
import { InBrowser } from "../../ui/charts/InBrowser";
import { lazyPart } from "../../ui/lazyPart";
import { ColourScale } from "./ColourScale";
import { DropCounter } from "./DropCounter";
import { NumberReading, VisualReading } from "./NumberReading";
import { useVessel } from "./practice";
import type { ReadProps } from "./readProps";
import { ScaleTitration } from "./ScaleTitration";

const CurveTitration = lazyPart(() => import("./CurveTitration"));

const MadeUp = lazyPart(() => import("./MadeUp"));

/** Fetches what a reading of the technique will need, while the network is still there. */
export function readAhead(technique: RunState["method"]["measure"]["technique"]): void {
  if (technique === "ph-endpoint") CurveTitration.ahead();
}

/** Where the reading of a technique is taken; above it the vessel, where the water is made up. */
export function ReadCard(props: ReadProps) {
  const vessel = useVessel();
  if (!vessel) return <Reading {...props} />;
  return (
    <div className="with-vessel">
      <InBrowser>
        <MadeUp {...props} vessel={vessel} />
      </InBrowser>
      <Reading {...props} />
    </div>
  );
}

/** What a scale is of: pH is its own unit and says nothing of a species. */
const titleOf = ({ analyte, unit, species }: { analyte: string; unit: string; species: string }): string =>
  [...new Set([analyte, unit])].join(", ") + (species === unit ? "" : ` ${species}`);

function Reading(props: ReadProps) {
  const { state, step, closed, keep } = props;
  const { measure } = state.method;
  const [scale, setScale] = useState(0);
  switch (measure.technique) {
    case "comparator":
      return (
        <>
          {measure.scales.length > 1 && (
            <fieldset className="choices" aria-label="Scale">
              {measure.scales.map((s, i) => (
                <button
                  key={s.name}
                  type="button"
                  className={i === scale ? "calm strong" : "calm"}
                  aria-pressed={i === scale}
                  onClick={() => setScale(i)}
                >
                  {s.name}
                </button>
              ))}
            </fieldset>
          )}
          <ColourScale
            key={scale}
            title={titleOf(state.method.result)}
            hint={`Look ${measure.view}.`}
            steps={measure.scales[scale]?.steps ?? []}
            scale={scale}
            closed={closed}
            keep={keep}
          />
        </>
      );
    case "strip": {
      const pad = measure.pads.find((p) => step.kind === "read" && p.key === step.pad);
      if (!pad) return null;
      return (
        <div className="strip-read">
          <StripDrawing positions={measure.pads.length} at={measure.pads.indexOf(pad)} />
          <ColourScale
            title={titleOf(pad)}
            hint={`The pad ${pad.position}.`}
            steps={pad.steps}
            scale={0}
            closed={closed}
            keep={keep}
          />
        </div>
      );
    }
    case "drops":
      return <DropCounter {...props} perDrop={measure.per_drop} />;
    case "burette":
      return (
        <ScaleTitration
          {...props}
          words="burette"
          full={measure.burette_ml}
          resolution={measure.resolution_ml}
        />
      );
    case "syringe":
      return (
        <ScaleTitration {...props} words="plunger" full={measure.full} resolution={measure.division / 2} />
      );
    case "ph-endpoint":
      return (
        <InBrowser>
          <CurveTitration {...props} />
        </InBrowser>
      );
    case "visual":
      return <VisualReading {...props} kind={measure.kind} />;
    default:
      return <NumberReading {...props} />;
  }
}

/** The strip as it is held, the pad in question marked. */
function StripDrawing({ positions, at }: { positions: number; at: number }) {
  const height = 30 + positions * 44;
  return (
    <svg
      className="strip"
      width="64"
      height={height + 40}
      viewBox={`0 0 64 ${height + 40}`}
      aria-hidden="true"
    >
      <rect className="strip-body" x="10" y="2" width="36" height={height + 34} rx="6" />
      {Array.from({ length: positions }, (_, i) => (
        <rect
          key={i}
          className={i === at ? "pad current" : "pad"}
          x="15"
          y={44 + i * 44}
          width="26"
          height="32"
          rx="2"
        />
      ))}
      <path className="pointer" d={`M62 ${60 + at * 44}h-12`} />
    </svg>
  );
}
