import { useId, useState } from "react";
import { photoLimits } from "../../../core/samples/photo";
import type { VisitState } from "../../../core/samples/visit";

import { smallPicture } from "../../ui/smallPicture";
import type { AddVisit } from "./cardProps";

/** A photo or two of the site, taken or chosen; kept small, and without where the camera was. */
export function Photos({ state, add }: { state: VisitState; add: AddVisit }) {
  const id = useId();
  const [wrong, setWrong] = useState<string | null>(null);
  const keep = async (file: File | undefined) => {
    if (!file) return;
    const image = await smallPicture(file).catch(() => null);
    if (!image) return setWrong("This picture cannot be read. Take another.");
    setWrong(null);
    add({ type: "photo", image, note: "" });
  };
  return (
    <div className="stack close">
      {state.photos.length > 0 && (
        <div className="photos">
          {state.photos.map((p, i) => (
            <img key={p.at} src={p.image} alt={`Number ${i + 1} of this visit`} />
          ))}
        </div>
      )}
      {state.photos.length < photoLimits.ofVisit && state.status === "open" && (
        <div className="field">
          <label htmlFor={id}>A photo, if it helps</label>
          <input
            id={id}
            type="file"
            accept="image/*"
            capture="environment"
            onChange={(e) => void keep(e.target.files?.[0])}
          />
        </div>
      )}
      {wrong && (
        <p className="wrong" role="alert">
          {wrong}
        </p>
      )}
    </div>
  );
}
