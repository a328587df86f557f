import { Input } from "antd";
import { useId, useState } from "react";
import { readPosition, showPosition } from "../../../core/samples/position";
import type { Position } from "../../../core/samples/visitEvents";
import { correctedNow } from "../../ui/clock";
import type { CardProps } from "./cardProps";

/** After so many minutes somebody who is alone gives word; 0: nobody waits for one. */
const words = [0, 30, 60, 120, 240];

/** The arrival: that it is safe, who is there, when somebody alone gives word, and where it is. */
export function ArriveCard({ todo, state, add }: CardProps) {
  const id = useId();
  const [people, setPeople] = useState("");
  const [minutes, setMinutes] = useState(0);
  const [place, setPlace] = useState("");
  const [device, setDevice] = useState<Position | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  if (todo.state === "done") {
    const { position } = state;
    return (
      <p className="quiet">You are here. {position && <span className="m">{showPosition(position)}</span>}</p>
    );
  }
  const locate = () => {
    if (!("geolocation" in navigator)) return setWrong("This device does not know where it is.");
    navigator.geolocation.getCurrentPosition(
      ({ coords }) => {
        const { latitude, longitude, accuracy } = coords;
        setDevice({ latitude, longitude, within_m: Math.round(Math.min(accuracy, 100_000)) });
        setPlace(showPosition(coords));
        setWrong(null);
      },
      () => setWrong("The device does not say where it is. Type it, or leave it."),
      { timeout: 15_000, enableHighAccuracy: true },
    );
  };
  const arrive = () => {
    const position = place.trim() === "" ? null : (device ?? readPosition(place));
    if (place.trim() !== "" && !position)
      return setWrong("Type two numbers in degrees, like 52.10412, -1.30278.");
    const back_by = minutes ? new Date(correctedNow() + minutes * 60_000).toISOString() : null;
    add({ type: "arrived", people: people.trim(), position, back_by });
  };
  return (
    <>
      <ul className="points">
        <li>A firm bank, room for the kit and your feet, footwear that holds.</li>
        <li>Wade only where it is safe; otherwise a pole, or a jar on a line.</li>
        <li>Not alone where it is deep, fast, icy or stormy; somebody knows when you are back.</li>
        <li>You may be here: access is lawful. Local rules and safety sheets come first.</li>
      </ul>
      <button type="button" className="act" onClick={arrive}>
        I have arrived, and it is safe
      </button>
      <fieldset className="visit-choices">
        <legend>If you are alone: give word after</legend>
        {words.map((m) => (
          <button
            key={m}
            type="button"
            className={`calm pick-one${minutes === m ? " on" : ""}`}
            aria-pressed={minutes === m}
            onClick={() => setMinutes(m)}
          >
            {m === 0 ? "nobody waits" : m < 120 ? `${m} min` : `${m / 60} h`}
          </button>
        ))}
      </fieldset>
      <div className="field">
        <label htmlFor={`${id}-people`}>Who else is there</label>
        <Input
          id={`${id}-people`}
          size="large"
          maxLength={120}
          value={people}
          onChange={(e) => setPeople(e.target.value)}
        />
      </div>
      <div className="field">
        <label htmlFor={`${id}-place`}>Where it is, degrees north and east</label>
        <div className="cluster">
          <Input
            id={`${id}-place`}
            className="m search"
            size="large"
            value={place}
            onChange={(e) => {
              setPlace(e.target.value);
              setDevice(null);
              setWrong(null);
            }}
          />
          <button type="button" className="calm strong" onClick={locate}>
            Ask the device
          </button>
        </div>
        {wrong && (
          <div className="wrong" role="alert">
            {wrong}
          </div>
        )}
      </div>
    </>
  );
}
