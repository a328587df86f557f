import "./practice.css";
import { useState } from "react";
import type { ColourStep } from "../../../core/methods/method";
import { formatNumber } from "../../../core/quantity/format";
import { colourWords, endPointColours, titrationColour } from "../../../core/simulation/endPoint";
import {
  colourOn,
  endOf,
  filledTo,
  type MixedColour,
  markSeen,
  markThrough,
  shownOn,
  smallestDose,
  tipAt,
  turned,
} from "../../../core/simulation/practiceWater";
import { alikeWords, scaleWords, seenWords } from "../../../core/simulation/practiceWords";
import { Graduated } from "./Graduated";
import type { Moved, Vessel } from "./practice";
import type { ReadProps } from "./readProps";

type Props = ReadProps & { vessel: Vessel };

/** What stands on the bench of a practised run: the sample in its colour, and what is let into it. */
export default function MadeUp(props: Props) {
  const { measure } = props.state.method;
  switch (measure.technique) {
    case "comparator":
      return <Tube {...props} steps={measure.scales.map((s) => s.steps)} held={heldOf(props)} />;
    case "strip": {
      const { step } = props;
      const pad = measure.pads.find((p) => step.kind === "read" && p.key === step.pad);
      return pad ? <Tube {...props} steps={[pad.steps]} held={heldOf(props, pad.parameter)} /> : null;
    }
    case "drops":
      return <DropFlask {...props} />;
    case "burette":
      return (
        <ScaleFlask
          {...props}
          doses={[1, 0.2, measure.resolution_ml]}
          line={0.1}
          lines={10}
          full={measure.burette_ml}
          words={(dose) => `${formatNumber(dose, dose < 1 ? 1 : 0)} mL`}
          what="The meniscus"
        />
      );
    case "syringe":
      return (
        <ScaleFlask
          {...props}
          doses={[1, measure.division, measure.division / 2]}
          line={measure.division}
          lines={Math.round(1 / measure.division)}
          full={measure.full}
          words={(dose) => `By ${formatNumber(dose, dose < 1 ? 1 : 0)}`}
          what="The plunger"
        />
      );
    case "digits":
      return <CounterFlask {...props} />;
    case "capillary":
      return (
        <div className="made-up">
          <Graduated
            at={tipAt(measure.table, heldOf(props)) * props.developed}
            line={0.5}
            lines={2}
            from={0}
            to={Math.max(...measure.table.map((row) => row.division))}
            up
            what="The light column"
          />
          <p className="quiet">
            The strip in the cup. Its column rises until the band at the end is dark; read its tip between the
            lines.
          </p>
        </div>
      );
    case "visual":
      return measure.kind === "drops-to-match" ? (
        <TwoColumns {...props} factor={measure.factor} />
      ) : (
        <Depth {...props} tube={measure.kind === "height"} />
      );
    default:
      return null;
  }
}

const heldOf = ({ state, vessel }: Props, parameter = state.method.result.parameter) =>
  vessel.water.held[parameter] ?? 0;

const mixed = ({ from, to, share }: MixedColour) =>
  `color-mix(in oklab, ${to} ${(share * 100).toFixed(1)}%, ${from})`;

/** A sample whose colour is compared, as far as it has come; said in words for an eye that cannot tell it. */
function Tube({
  state: { method },
  developed,
  steps,
  held,
}: Props & { steps: readonly (readonly ColourStep[])[]; held: number }) {
  const [told, setTold] = useState(false);
  // A content beyond the lower of two scales is somewhere on the other.
  const scale = steps.find((s) => (s.at(-1)?.value ?? 0) >= held) ?? steps.at(-1) ?? [];
  const shown = shownOn(scale, held, developed);
  return (
    <div className="made-up">
      <div className="tube" style={{ background: mixed(colourOn(scale, shown)) }} />
      <div className="stack close">
        <p className="quiet">
          {method.measure.technique === "strip" ? "The pad" : "The tube"} as it looks now. Which step of the
          scale is it, or between which two?
        </p>
        {told ? (
          <p role="status">{scaleWords(scale, shown)}</p>
        ) : (
          <div>
            <button type="button" className="calm" onClick={() => setTold(true)}>
              I cannot tell: say it
            </button>
          </div>
        )}
      </div>
    </div>
  );
}

/** The sample of a titration: how its colour stands after so much, and what one calls it. */
function Flask({ props, given }: { props: Props; given: number }) {
  const { state, replicate } = props;
  const end = endOf(state, heldOf(props)) ?? 0;
  const back = state.replicates[replicate]?.overshot?.back_ml ?? 0;
  const share = turned(Math.max(0, given - back), end, smallestDose(state.method));
  const colours = endPointColours(state.method);
  const words = colourWords(colours, share);
  return (
    <figure className="flask">
      <svg width="150" height="170" viewBox="0 0 150 170" aria-hidden="true">
        <path
          style={{ fill: mixed(titrationColour(colours, share)) }}
          d="M44 92 16 146q-6 16 12 18h94q18-2 12-18L106 92z"
        />
        <path className="glass" d="M58 6v52L16 142q-8 20 12 22h94q20-2 12-22L92 58V6M52 6h46" />
      </svg>
      <figcaption role="status">{words}</figcaption>
    </figure>
  );
}

function DropFlask(props: Props) {
  const { state, replicate } = props;
  return (
    <div className="made-up">
      <Flask props={props} given={state.replicates[replicate]?.drops ?? 0} />
    </div>
  );
}

/** Buttons that move something by so much. */
function Doses({
  doses,
  words,
  go,
}: {
  doses: readonly number[];
  words(dose: number): string;
  go(dose: number): void;
}) {
  return (
    <div className="actions">
      {doses.map((dose) => (
        <button key={dose} type="button" className="calm strong" onClick={() => go(dose)}>
          {words(dose)}
        </button>
      ))}
    </div>
  );
}

/** What a replicate's instrument stands at, and how it is moved. */
function useMoved({ vessel, replicate }: Props, begin: number): [Moved, (to: Moved) => void] {
  return [vessel.moved(replicate) ?? { level: begin, out: 0 }, (to) => vessel.move(replicate, to)];
}

/** So much of a scale is seen around where it stands, in numbered parts of it. */
const inView = 1.1;

function ScaleFlask({
  doses,
  line,
  lines,
  full,
  words,
  what,
  ...props
}: Props & {
  doses: readonly number[];
  line: number;
  lines: number;
  full: number;
  words(dose: number): string;
  what: string;
}) {
  const { state, vessel, replicate } = props;
  const [{ level, out }, move] = useMoved(props, filledTo(state.method, vessel.water.seed, replicate));
  const tidy = (value: number) => Number(value.toFixed(6));
  const span = inView * line * lines;
  return (
    <div className="made-up">
      <Graduated
        at={level}
        line={line}
        lines={lines}
        from={level - span}
        to={level + span}
        up={false}
        what={what}
      />
      <Flask props={props} given={out} />
      <div className="stack close">
        <p className="quiet">
          Read where it stands before you begin. Then let it run, and slow down in time.
        </p>
        <Doses
          doses={doses}
          words={(dose) => (dose === doses.at(-1) ? "One drop" : words(dose))}
          go={(dose) => {
            const room = Math.min(dose, full - level);
            move({ level: tidy(level + room), out: tidy(out + room) });
          }}
        />
        {full - level < 1e-6 && <p role="status">It is empty. Read it, and fill it again.</p>}
        {level > full / 2 && (
          <div>
            <button type="button" className="calm" onClick={() => move({ level: 0, out })}>
              Fill it again, to 0
            </button>
          </div>
        )}
      </div>
    </div>
  );
}

function CounterFlask(props: Props) {
  const [{ out }, move] = useMoved(props, 0);
  return (
    <div className="made-up">
      <div className="figure" role="status">
        <span>the counter shows</span>
        <b className="lead m">{formatNumber(out, 0)}</b>
      </div>
      <Flask props={props} given={out} />
      <Doses
        doses={[20, 5, 1]}
        words={(dose) => (dose === 1 ? "1 digit" : `${dose} digits`)}
        go={(dose) => move({ level: out + dose, out: out + dose })}
      />
    </div>
  );
}

/** A mark seen from above, through water. */
function Mark({ seen, words }: { seen: number; words: string }) {
  return (
    <figure className="flask">
      <svg width="130" height="130" viewBox="0 0 130 130" aria-hidden="true">
        <circle className="water" cx="65" cy="65" r="60" />
        <path
          className="disc"
          style={{ opacity: seen }}
          d="M65 65V15a50 50 0 0 1 50 50zM65 65v50a50 50 0 0 1-50-50z"
        />
      </svg>
      <figcaption role="status">{words}</figcaption>
    </figure>
  );
}

/** A disc that is lowered, or a tube from which water is let. */
function Depth({ tube, ...props }: Props & { tube: boolean }) {
  const { method } = props.state;
  const top = method.range.high;
  const [{ level }, move] = useMoved(props, tube ? top : 0);
  const { unit } = method.result;
  const seen = markSeen(level, heldOf(props));
  const go = (by: number) => {
    const to = Math.min(top, Math.max(0, level + by));
    move({ level: to, out: to });
  };
  return (
    <div className="made-up">
      <Mark seen={seen} words={seenWords(seen)} />
      <div className="stack close">
        <div className="figure" role="status">
          <span>{tube ? "water in the tube" : "the line at the surface"}</span>
          <b className="lead m">
            {formatNumber(level, 0)} <small>{unit}</small>
          </b>
        </div>
        <Doses doses={[10, 1]} words={(by) => `${tube ? "Fill" : "Lower"} ${by} ${unit}`} go={go} />
        <Doses
          doses={[10, 1]}
          words={(by) => `${tube ? "Let out" : "Raise"} ${by} ${unit}`}
          go={(by) => go(-by)}
        />
      </div>
    </div>
  );
}

/** The sample beside pure water that is made turbid dose by dose, a mark below each. */
function TwoColumns({ factor, ...props }: Props & { factor: number }) {
  const [{ out }, move] = useMoved(props, 0);
  const top = props.state.method.range.high;
  return (
    <div className="made-up">
      <Mark seen={markThrough(heldOf(props), top)} words="the sample" />
      <Mark seen={markThrough(out * factor, top)} words={alikeWords(out * factor, heldOf(props), factor)} />
      <Doses doses={[1]} words={() => "One dose"} go={() => move({ level: out + 1, out: out + 1 })} />
    </div>
  );
}
