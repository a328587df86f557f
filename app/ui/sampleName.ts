/**
 * What people write on a bottle: E1 of "Feed borehole E1", SB of "Settling basin", with month and day of a date.
 * Check value: "Settling basin" on 2026-04-12 is "SB-0412".
 */
export function sampleName(site: string, isoDate: string): string {
  const words = site.split(/[\s']+/).filter((w) => /^[A-Z0-9]/i.test(w));
  const code =
    words.find((w) => /^[A-Z]\d+$/.test(w)) ??
    words
      .slice(0, 2)
      .map((w) => w[0]?.toUpperCase())
      .join("");
  return code ? `${code}-${isoDate.slice(5).replace("-", "")}` : "";
}
