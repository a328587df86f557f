import { useState } from "react";
import { readValue } from "../../../core/quantity/entry";
import { type Clarity, clarityProblem, clarityWords, discSize_cm } from "../../../core/samples/clarity";
import { NumberEntry } from "../../ui/NumberEntry";
import type { CardProps } from "./cardProps";

/** A length in cm as it was typed (`90`, `3 ft`, `3.5 ft`); null for an empty field. */
function lengthOf(text: string): { cm: number | null } | { message: string } {
  if (text.trim() === "") return { cm: null };
  const entry = readValue(text, "cm");
  return "message" in entry ? entry : { cm: entry.value };
}

/** Which field of the card holds which depth; a disc has one size. */
const fieldOf = { disc_cm: "depth", depth_cm: "depth", disappears_cm: "down", reappears_cm: "up" } as const;

/** How deep a disc is seen: where it disappears, where it comes back; or that it is seen on the bottom. */
export function ClarityCard({ state, add }: CardProps) {
  const [texts, setTexts] = useState({ depth: "", down: "", up: "" });
  const [wrong, setWrong] = useState<Partial<typeof texts>>({});
  const kept = state.clarity?.value;
  const keep = () => {
    const read = { depth: lengthOf(texts.depth), down: lengthOf(texts.down), up: lengthOf(texts.up) };
    const wrongs = Object.fromEntries(
      Object.entries(read).flatMap(([k, v]) => ("message" in v ? [[k, v.message]] : [])),
    );
    if (Object.keys(wrongs).length > 0) return setWrong(wrongs);
    const cm = (v: (typeof read)["depth"]) => ("cm" in v ? v.cm : null);
    const clarity: Clarity = {
      disc_cm: discSize_cm,
      disappears_cm: cm(read.down),
      reappears_cm: cm(read.up),
      depth_cm: cm(read.depth),
    };
    const problem = clarityProblem(clarity);
    if (problem) return setWrong({ [fieldOf[problem.path]]: problem.message });
    setWrong({});
    add({ type: "clarity", clarity });
  };
  const field = (key: keyof typeof texts, label: string, hint?: string) => (
    <NumberEntry
      label={label}
      unit="cm"
      name={key}
      text={texts[key]}
      onText={(text) => {
        setTexts({ ...texts, [key]: text });
        setWrong({});
      }}
      wrong={wrong[key]}
      {...(hint ? { hint } : {})}
    />
  );
  return (
    <form
      className="stack close"
      noValidate
      onSubmit={(e) => {
        e.preventDefault();
        keep();
      }}
    >
      <p className="quiet">A disc of {discSize_cm} cm on the shaded side. Depth of the water first.</p>
      {field("depth", "Depth of the water", "In cm, or like 3.5 ft.")}
      {field("down", "It disappears at", "Leave both empty when it is seen on the bottom.")}
      {field("up", "It comes back at")}
      <button type="submit" className="act">
        Keep it
      </button>
      {kept && (
        <p role="status">
          <b className="m">{clarityWords(kept)}</b> <span className="quiet">kept</span>
        </p>
      )}
    </form>
  );
}
