import { Input } from "antd";
import { useState } from "react";
import { type Look, type LookKey, lookChoices, lookKeys, noLook } from "../../../core/samples/visitEvents";
import type { CardProps } from "./cardProps";

export const lookTitles: Record<LookKey, string> = {
  weather: "Weather",
  rain_24h: "Rain in the last 24 hours",
  wind: "Wind",
  level: "Level, against what is usual",
  colour: "Colour of the water",
  smell: "Smell",
  surface: "Surface",
};

/** The look around, by choice; nothing is suggested, so that nothing leads the eye. */
export function LookCard({ state, add }: CardProps) {
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
    </>
  );
}
