/** Where a check of a kind begins. */
export const startHref = (
  kind: string,
  { source, instrument_id }: { source: "meter" | "analysis"; instrument_id: string },
  bottle?: string | null,
): string => {
  const query = new URLSearchParams({ of: kind, ...(bottle ? { bottle } : {}) });
  return source === "meter"
    ? `/meters/${instrument_id}/read?${query}`
    : `/runs/new/${instrument_id}?${query}`;
};
