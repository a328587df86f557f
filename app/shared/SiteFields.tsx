import { TextField } from "./TextField";

/** The fields of a new site, shared by the sites and the first steps. */
export function SiteFields({ errors }: { errors: Record<string, string> }) {
  return (
    <>
      <div className="two">
        <TextField name="name" label="Name of the site" wrong={errors.name} />
        <TextField name="water" label="What water" hint="Pond, borehole, outfall …" wrong={errors.water} />
      </div>
      <div className="two">
        <TextField name="expected_ph_low" label="Lowest pH you expect" wrong={errors.expected_ph_low} mono />
        <TextField
          name="expected_ph_high"
          label="Highest pH you expect"
          wrong={errors.expected_ph_high}
          mono
        />
      </div>
    </>
  );
}
