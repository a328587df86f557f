import { useState } from "react";
import { readValue } from "../../../core/quantity/entry";
import { formatNumber } from "../../../core/quantity/format";
import { clarityDepth } from "../../../core/samples/visit";
import type { Clarity } from "../../../core/samples/visitEvents";
import { NumberEntry } from "../../ui/NumberEntry";
import type { CardProps } from "./cardProps";

/** The disc of fresh water, cm. Source: common practice. */
const disc_cm = 20;

/** A length in cm as it was typed (`90`, `3 ft`, `3.5 ft`); null for an empty field. */
function lengthOf(text: string): { cm: number | null } | { message: string } {
  if (text.trim() === "") return { cm: null };
  const entry = readValue(text, "cm");
  return "message" in entry ? entry : { cm: entry.value };
}

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
      disc_cm,
      disappears_cm: cm(read.down),
      reappears_cm: cm(read.up),
      depth_cm: cm(read.depth),
    };
    const problem = problemOf(clarity);
    if (problem) return setWrong(problem);
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
      <p className="quiet">A disc of {disc_cm} cm on the shaded side. Depth of the water first.</p>
      {field("depth", "Depth of the water", "In cm, or like 3.5 ft.")}
      {field("down", "It disappears at", "Leave both empty when it is seen on the bottom.")}
      {field("up", "It comes back at")}
      <button type="submit" className="act">
        Keep it
      </button>
      {kept && (
        <p role="status">
          <b className="m">
            {clarityDepth(kept) === null
              ? `> ${formatNumber(kept.depth_cm ?? 0, 0)} cm`
              : `${formatNumber(clarityDepth(kept) ?? 0, 0)} cm`}
          </b>{" "}
          <span className="quiet">kept</span>
        </p>
      )}
    </form>
  );
}

/** What cannot be, at its field: said here as the record would say it. */
function problemOf(c: Clarity): { depth?: string; up?: string } | null {
  if ((c.disappears_cm === null) !== (c.reappears_cm === null))
    return { up: "Give both: where it disappears, and where it comes back." };
  if (c.disappears_cm === null && c.depth_cm === null)
    return { depth: "A disc that is seen on the bottom needs the depth of the water." };
  const deepest = Math.max(c.disappears_cm ?? 0, c.reappears_cm ?? 0);
  return c.depth_cm !== null && deepest > c.depth_cm
    ? { depth: "The disc was deeper than the water. Look at the two again." }
    : null;
}
