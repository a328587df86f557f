/** A name as an id of so many characters at most. Check value: "Algae, dark glass" is algae-dark-glass. */
export const slugOf = (name: string, longest: number): string =>
  name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-|-$/g, "")
    .slice(0, longest)
    .replace(/-$/, "");
