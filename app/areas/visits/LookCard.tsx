import { Input } from "antd";
import { useState } from "react";
import { unusualLook } from "../../../core/samples/usualLook";
import { type Look, type LookKey, lookChoices, lookKeys, noLook } from "../../../core/samples/visitEvents";
import type { VisitBefore } from "../../server/visits/visits.server";
import type { CardProps } from "./cardProps";
import { Photos } from "./Photos";

export const lookTitles: Record<LookKey, string> = {
  weather: "Weather",
  rain_24h: "Rain in the last 24 hours",
  wind: "Wind",
  level: "Level, against what is usual",
  flow: "Flow",
  colour: "Colour of the water",
  smell: "Smell",
  surface: "Surface",
  shore: "Shore",
  animals: "Animals",
  litter: "Litter",
};

/** The look around, by choice; nothing is suggested, so that nothing leads the eye. */
export function LookCard({ state, add, before }: CardProps & { before: readonly VisitBefore[] }) {
  const [look, setLook] = useState<Look>(state.look ?? noLook);
  return (
    <>
      {lookKeys.map((key) => (
        <fieldset key={key} className="visit-choices">
          <legend>{lookTitles[key]}</legend>
          {lookChoices[key].map((choice) => (
            <button
              key={choice}
              type="button"
              className={`calm pick-one${look[key] === choice ? " on" : ""}`}
              aria-pressed={look[key] === choice}
              onClick={() => setLook({ ...look, [key]: look[key] === choice ? null : choice })}
            >
              {choice}
            </button>
          ))}
        </fieldset>
      ))}
      <Input.TextArea
        aria-label="Anything else"
        placeholder="Anything else"
        autoSize
        maxLength={400}
        value={look.note}
        onChange={(e) => setLook({ ...look, note: e.target.value })}
      />
      <button type="button" className="act" onClick={() => add({ type: "looked", look })}>
        Keep what you saw
      </button>
      {state.look && <Usual look={state.look} before={before} />}
      <Photos state={state} add={add} />
    </>
  );
}

/** What is usual there, shown after the answer, so that it does not lead it. */
function Usual({ look, before }: { look: Look; before: readonly VisitBefore[] }) {
  const looks = before.flatMap((b) => b.look ?? []);
  if (looks.length === 0) return null;
  const other = unusualLook(look, looks);
  return (
    <p role="status">
      {other.length === 0
        ? "As it usually is here."
        : other.map((o) => `${lookTitles[o.key]}: ${o.now}, usually ${o.usual}.`).join(" ")}
    </p>
  );
}
