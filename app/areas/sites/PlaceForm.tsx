import { Form } from "react-router";
import type { SitePage } from "../../server/sites/sitePage.server";
import { TextField } from "../../ui/TextField";

const written = (value: number | null): string => (value === null ? "" : String(value));

/** Where a site lies, how it is reached, and its well. */
export function PlaceForm({
  site: { place },
  errors,
  kept,
  busy,
}: {
  site: SitePage["site"];
  errors: Record<string, string>;
  kept: string;
  busy: boolean;
}) {
  const field = (
    name: Exclude<keyof typeof place, "branch" | "directions" | "datum" | "pump" | "sample_point">,
    label: string,
    hint?: string,
  ) => (
    <TextField
      name={name}
      label={label}
      initial={written(place[name])}
      wrong={errors[name]}
      mono
      {...(hint ? { hint } : {})}
    />
  );
  const words = (
    name: "branch" | "directions" | "datum" | "pump" | "sample_point",
    label: string,
    hint?: string,
  ) => (
    <TextField
      name={name}
      label={label}
      initial={place[name]}
      wrong={errors[name]}
      {...(hint ? { hint } : {})}
    />
  );
  return (
    <section className="sheet stack" aria-label="Where it is">
      <div>
        <h2>Where it is</h2>
        <p className="quiet">Everything may stay empty. Distances order the sites along their water.</p>
      </div>
      <Form method="post" className="stack" key={JSON.stringify(place)}>
        <div className="two">
          {field("latitude", "Degrees north", "Like 52.10412; south is negative.")}
          {field("longitude", "Degrees east", "Like 1.30278; west is negative.")}
        </div>
        <div className="two">
          {field("km", "Along the water, km", "From its top.")}
          {words("branch", "Arm of the water", "Empty for the main one.")}
        </div>
        {words("directions", "How to find and reach it", "Path, gate, key, what to beware of.")}
        <details>
          <summary>The well, where it is one</summary>
          <div className="stack well-fields">
            <div className="two">
              {field("well_depth_m", "Depth of the well, m")}
              {field("casing_mm", "Inner diameter of the casing, mm")}
            </div>
            <div className="two">
              {words("datum", "Depths are measured from", "Top of the casing, or the ground.")}
              {field("datum_above_ground_m", "which lies above the ground by, m")}
            </div>
            <div className="two">
              {words("pump", "Pump", "Above a lift of about 6 to 7 m a submersible is usual.")}
              {words("sample_point", "Sample point", "As near the pump as possible.")}
            </div>
          </div>
        </details>
        <div className="cluster">
          <button type="submit" name="do" value="place" className="act small" disabled={busy}>
            Keep where it is
          </button>
          {kept && <span role="status">{kept}</span>}
        </div>
      </Form>
    </section>
  );
}
