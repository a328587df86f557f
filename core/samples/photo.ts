import { z } from "zod";

/** A photo is kept small: so many characters of its base64; so many of a visit, and of a site. */
export const photoLimits = { characters: 150_000, ofVisit: 3, ofSite: 6 } as const;

/** A JPEG as a data URL, as a browser makes it small. */
export const photoImageSchema = z
  .string()
  .max(photoLimits.characters, { error: "This picture is too large." })
  .regex(/^data:image\/jpeg;base64,\/9j\/[A-Za-z0-9+/]+=*$/, { error: "A photo is a JPEG." });

/** A picture that helps to find a site, as it is sent. */
export const sitePhotoSchema = z.object({
  image: photoImageSchema,
  caption: z
    .string()
    .trim()
    .min(1, { error: "Say what it shows." })
    .max(120, { error: "A line of up to 120 characters." }),
});
export type SitePhoto = z.infer<typeof sitePhotoSchema>;
