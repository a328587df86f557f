import { useId, useState } from "react";
import type { VisitState } from "../../../core/samples/visit";
import { photoLimits } from "../../../core/samples/visitEvents";
import type { AddVisit } from "./cardProps";

/** The longer side of a photo that is kept, in points of the picture. */
const side = 800;

/** A picture made small, without what the camera wrote into it; it is drawn anew until it fits. */
async function small(file: File): Promise<string | null> {
  const picture = await createImageBitmap(file);
  for (const [share, quality] of [
    [1, 0.6],
    [0.75, 0.5],
    [0.5, 0.5],
  ] as const) {
    const scale = Math.min(1, (side * share) / Math.max(picture.width, picture.height));
    const canvas = document.createElement("canvas");
    canvas.width = Math.round(picture.width * scale);
    canvas.height = Math.round(picture.height * scale);
    canvas.getContext("2d")?.drawImage(picture, 0, 0, canvas.width, canvas.height);
    const image = canvas.toDataURL("image/jpeg", quality);
    if (image.length <= photoLimits.characters) return image;
  }
  return null;
}

/** A photo or two of the site, taken or chosen; kept small, and without where the camera was. */
export function Photos({ state, add }: { state: VisitState; add: AddVisit }) {
  const id = useId();
  const [wrong, setWrong] = useState<string | null>(null);
  const keep = async (file: File | undefined) => {
    if (!file) return;
    const image = await small(file).catch(() => null);
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
      {state.photos.length < photoLimits.count && state.status === "open" && (
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
