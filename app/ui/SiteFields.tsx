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
        <TextField name="ph_low" label="Lowest pH you expect" wrong={errors.ph_low} mono />
        <TextField name="ph_high" label="Highest pH you expect" wrong={errors.ph_high} mono />
      </div>
      <div className="two">
        <TextField
          name="conductivity_low"
          label="Lowest conductivity, µS/cm"
          hint="May stay empty."
          wrong={errors.conductivity_low}
          mono
        />
        <TextField
          name="conductivity_high"
          label="Highest conductivity, µS/cm"
          wrong={errors.conductivity_high}
          mono
        />
      </div>
      <TextField
        name="altitude_m"
        label="Altitude, m"
        hint="Oxygen needs it when the pressure comes from a weather report."
        wrong={errors.altitude_m}
        mono
      />
    </>
  );
}
