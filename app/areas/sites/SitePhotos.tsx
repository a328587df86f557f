import { useId, useState } from "react";
import { Form } from "react-router";
import { photoLimits } from "../../../core/samples/photo";
import { showTime } from "../../../core/time/words";
import type { SitePage } from "../../server/sites/sitePage.server";
import { smallPicture } from "../../ui/smallPicture";
import { TextField } from "../../ui/TextField";

/** Pictures that help to find a site, and the form for one more. */
export function SitePhotos({
  site,
  photos,
  zone,
  errors,
  kept,
  busy,
}: Pick<SitePage, "site" | "photos" | "zone"> & {
  errors: Record<string, string>;
  kept: string;
  busy: boolean;
}) {
  return (
    <section className="sheet stack" aria-label="What it looks like">
      <div>
        <h2>What it looks like</h2>
        <p className="quiet">
          The gate, the firm bank, the top of the casing: what somebody new would look for.
        </p>
      </div>
      {photos.length > 0 && (
        <ul className="site-photos">
          {photos.map((photo) => (
            <li key={photo.id}>
              <figure className="stack close">
                <img
                  src={`/sites/${site.id}/photos/${photo.id}`}
                  alt={photo.caption}
                  loading="lazy"
                  width={320}
                  height={240}
                />
                <figcaption className="stack close">
                  <span>{photo.caption}</span>
                  <span className="cluster apart quiet small">
                    <span>
                      {photo.by}, {showTime(photo.at, zone, "day")}
                    </span>
                    <Form method="post">
                      <input type="hidden" name="photo" value={photo.id} />
                      <button
                        type="submit"
                        name="do"
                        value="photo-down"
                        className="calm"
                        disabled={busy}
                        aria-label={`Take down: ${photo.caption}`}
                      >
                        Take down
                      </button>
                    </Form>
                  </span>
                </figcaption>
              </figure>
            </li>
          ))}
        </ul>
      )}
      {photos.length < photoLimits.ofSite ? (
        <NewPhoto key={photos[0]?.id ?? "first"} errors={errors} busy={busy} />
      ) : (
        errors.image && (
          <p className="wrong" role="alert">
            {errors.image}
          </p>
        )
      )}
      {kept && <span role="status">{kept}</span>}
    </section>
  );
}

/** The form of one more picture: it is made small here, before it is sent. */
function NewPhoto({ errors, busy }: { errors: Record<string, string>; busy: boolean }) {
  const id = useId();
  const [image, setImage] = useState("");
  const [wrong, setWrong] = useState("");
  const said = wrong || errors.image;
  const choose = async (file: File | undefined) => {
    setImage("");
    setWrong("");
    if (!file) return;
    const small = await smallPicture(file).catch(() => null);
    if (small) setImage(small);
    else setWrong("This picture cannot be read. Choose another.");
  };
  return (
    <Form method="post" className="stack">
      <div className="field">
        <label htmlFor={id}>A photo</label>
        <input
          id={id}
          type="file"
          accept="image/*"
          onChange={(e) => void choose(e.target.files?.[0])}
          aria-describedby={`${id}-says`}
        />
        <input type="hidden" name="image" value={image} />
        <div id={`${id}-says`}>
          {said ? (
            <div className="wrong" role="alert">
              {said}
            </div>
          ) : (
            <div className="hint">It is kept small, without what the camera wrote into it.</div>
          )}
        </div>
      </div>
      <TextField name="caption" label="What it shows" wrong={errors.caption} />
      {image && <img className="photo-chosen" src={image} alt="The one you chose" />}
      <div className="cluster">
        <button type="submit" name="do" value="photo" className="act small" disabled={busy}>
          Hang it here
        </button>
      </div>
    </Form>
  );
}
